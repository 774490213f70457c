"""The demo collection as a file, with the photographs that ship with it (rendered by scripts/sample_photos.py)."""

import json
from dataclasses import replace
from datetime import date
from importlib.resources import files
from pathlib import Path

from kesh.demo.lanternfield import demo_collection
from kesh.model import TreePhoto
from kesh.store.collection_file import CollectionFile, picture_key

TAKEN = date(2026, 3, 1)
BY_CARD = ("cartographer", "paper-lantern")
NOTES = {
    "old-ferryman": ("strong to the right, one root crosses in front", "lowest branch right carries the flow"),
    "tollgate": ("even all round", "gap in the second tier, left"),
}


def create_demo(path: Path) -> CollectionFile:
    """A fresh copy of the demo collection. Raises CollectionFileError when the file cannot be written."""
    folder = files("kesh.demo").joinpath("photos")
    marks = json.loads(folder.joinpath("marks.json").read_text(encoding="utf-8"))
    photos, bodies = {}, []
    for name, row in marks.items():
        body = folder.joinpath(f"{name}.jpg").read_bytes()
        bodies.append(body)
        roots, branches = NOTES.get(name, ("", ""))
        key = f"{name}-photo"
        usual = {"tree": name, "front": "view" not in row, "how": "card" if name in BY_CARD else "pot"}
        photos[key] = TreePhoto(
            id=key, picture=picture_key(body), name=f"{name}.jpg", taken=TAKEN, roots=roots, branches=branches,
            **(usual | row),
        )  # fmt: skip
    pictures = {picture_key(body): body for body in bodies}
    return CollectionFile.create(path, replace(demo_collection(), photos=photos), pictures)
