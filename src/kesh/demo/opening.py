"""A fresh copy of the demo collection at each start, and room for it."""

from datetime import datetime
from pathlib import Path

from kesh.base import paths
from kesh.base.errors import KeshError
from kesh.base.writing import make_folder
from kesh.demo.pictures import create_demo
from kesh.store.collection_file import CollectionFile

KEEP_DEMOS = 5


def open_demo() -> CollectionFile:
    """A fresh copy of the demo collection; earlier copies nobody worked in make room."""
    target = paths.demo_file(datetime.now())
    make_folder(target.parent)
    old = sorted(target.parent.glob("Lanternfield bench *.kesh"), key=lambda p: p.stat().st_mtime)
    for path in old[:-KEEP_DEMOS] if len(old) > KEEP_DEMOS else []:
        if untouched(path):
            path.unlink(missing_ok=True)
    return create_demo(target)


def untouched(path: Path) -> bool:
    """Whether nothing was ever edited in a collection file."""
    try:
        file = CollectionFile.open(path, backup=False)
    except KeshError:
        return False
    before, _ = file.labels()
    file.close()
    return before is None and not file.read_only
