"""What a verb reads: a bundle or a collection file, a pot in it."""

from pathlib import Path

from kesh.base.errors import FieldError
from kesh.base.words import a_few
from kesh.formats.bundle import load_bundle
from kesh.model import Collection, Pot


def load(path: Path) -> Collection:
    """A collection from a bundle or, read-only, from a collection file."""
    if path.suffix.lower() == ".kesh":
        from kesh.store.reading import read_collection

        return read_collection(path)
    return load_bundle(path)


def pot_of(collection: Collection, pot: str) -> Pot:
    """A pot by its id. Raises FieldError with those that are there."""
    if pot not in collection.pots:
        raise FieldError("pot", f"no pot '{pot}'; known are {a_few(collection.pots)}")
    return collection.pots[pot]
