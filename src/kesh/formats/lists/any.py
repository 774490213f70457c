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
from kesh.formats.lists.spoken.table import SpokenTable, spoken_table
from kesh.formats.lists.table import Table, read_table
from kesh.formats.lists.trees import trees_of
from kesh.formats.lists.trees import understood as tree_columns
from kesh.model import Pot, Tree
from kesh.reference.tables import Species

# columns that only a list of trees has
OF_TREES = frozenset({"species", "trunk_diameter_mm", "stage"})
# heads that only Kesh's own list of pots has: it is read as it was written
OF_KESH = frozenset({"length_mm", "width_mm", "height_mm"})


def read_list(
    path: Path, pots: Mapping[str, Pot] | Iterable[str], trees: Mapping[str, Tree] | Iterable[str], listed: Mapping[str, Species], today: date, progress: Progress | None = None
) -> Imported:  # fmt: skip
    """What stands in a list. Raises BundleError for a table of something else, StoppedError when stopped."""
    table, name = read_table(path), shown(path)
    known = pots if isinstance(pots, Mapping) else frozenset(pots)
    spoken = _spoken(path, table)
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


def _spoken(path: Path, table: Table) -> SpokenTable | None:
    """The list in spoken words where it is one of pots."""
    try:
        if OF_TREES & set(tree_columns(table, "").fields):
            return None
    except BundleError:
        pass
    try:
        found = spoken_table(path)
    except BundleError:
        return None
    return found if is_pots(found) else None
