"""A list of pots or of trees: its columns say which."""

from collections.abc import Iterable, Mapping
from datetime import date
from pathlib import Path

from kesh.base.errors import BundleError
from kesh.base.progress import Progress
from kesh.base.writing import shown
from kesh.formats.lists.pots import pots_of
from kesh.formats.lists.read import Imported
from kesh.formats.lists.table import read_table
from kesh.formats.lists.trees import trees_of
from kesh.model import Pot, Tree
from kesh.reference.tables import Species


def read_list(
    path: Path, pots: Mapping[str, Pot] | Iterable[str], trees: Mapping[str, Tree] | Iterable[str], listed: Mapping[str, Species], today: date, progress: Progress | None = None
) -> Imported:  # fmt: skip
    """What stands in a list. Raises BundleError for a table of something else, StoppedError when stopped."""
    table, name = read_table(path), shown(path)
    try:
        return pots_of(table, name, pots, progress)
    except BundleError as no_pots:
        try:
            return trees_of(table, name, listed, today, trees, progress)
        except BundleError as no_trees:
            raise BundleError(f"{no_pots}; and {str(no_trees).split(': ', 1)[-1]}") from no_trees
