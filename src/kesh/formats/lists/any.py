"""A list of pots or of trees: its columns say which, in Kesh's own words or in anybody's."""

from collections.abc import Iterable, Mapping
from datetime import date
from pathlib import Path

from kesh.base.errors import BundleError
from kesh.base.progress import Progress
from kesh.base.writing import shown
from kesh.formats.lists.pots import pots_of
from kesh.formats.lists.read import Imported
from kesh.formats.lists.spoken.pots import is_pots, spoken_pots
from kesh.formats.lists.spoken.records import imported
from kesh.formats.lists.spoken.table import SpokenTable, table_of_text
from kesh.formats.lists.table import Table, read_text, table_of
from kesh.formats.lists.trees import trees_of
from kesh.model import Pot, Tree
from kesh.reference.tables import Species

# heads that only a list of trees has: 'kind', 'diameter' and 'state' stand in lists of pots too
OF_TREES = frozenset({
    "species", "baumart", "espece", "especie", "specie", "botanical name", "latin name", "trunk", "trunk diameter", "trunk width", "girth", "nebari", "stamm",
    "stammdicke", "stammdurchmesser", "tronc", "tronco",
})  # fmt: skip
# heads that only Kesh's own list of pots has: it is read as it was written
OF_KESH = frozenset({"length_mm", "width_mm", "height_mm"})


def read_list(
    path: Path, pots: Mapping[str, Pot] | Iterable[str], trees: Mapping[str, Tree] | Iterable[str], listed: Mapping[str, Species], today: date, progress: Progress | None = None
) -> Imported:  # fmt: skip
    """What stands in a list. Raises BundleError for a table of something else, StoppedError when stopped."""
    text, name = read_text(path), shown(path)
    table = table_of(text, name)
    known = pots if isinstance(pots, Mapping) else frozenset(pots)
    spoken = pots_in_words(text, table, name)
    try:
        found = pots_of(table, name, known, progress)
    except BundleError as no_pots:
        if spoken is not None:
            return imported(spoken, spoken_pots(spoken), known)
        try:
            return trees_of(table, name, listed, today, trees, progress)
        except BundleError as no_trees:
            raise BundleError(f"{no_pots}; and {str(no_trees).split(': ', 1)[-1]}") from no_trees
    if spoken is None or {h.words.lower() for h in table.headers} >= OF_KESH or _well(found):
        return found
    return imported(spoken, spoken_pots(spoken), known)


def _well(found: Imported) -> bool:
    """Whether every row was understood as it was written."""
    lost = [r for r in found.rows if r.record is None and "there already" not in r.told]
    noted = [p for p in found.pots if "as written" in p.notes]
    return not lost and not noted


def pots_in_words(text: str, table: Table, name: str) -> SpokenTable | None:
    """The list in spoken words where it is one of pots."""
    if OF_TREES & {h.plain for h in table.headers}:
        return None
    try:
        found = table_of_text(text, name)
    except BundleError:
        return None
    return found if is_pots(found) else None
