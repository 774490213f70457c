"""Renders the demo collection's photographs from its grown trees, with their marks: src/kesh/demo/photos/.

.venv/bin/python scripts/sample_photos.py
"""

import json
from collections.abc import Iterable
from pathlib import Path

import cv2

from kesh.demo.lanternfield import demo_collection
from kesh.demo.photographs.above import render_above
from kesh.demo.photographs.tree import Shot, render
from kesh.photo.garden.propose import about
from kesh.photo.view import Hints, View
from kesh.reference.tables import tables

OUT = Path(__file__).parents[1] / "src" / "kesh" / "demo" / "photos"
SHOTS = {
    "old-ferryman": Shot(ground="wall", seed=11, light=1.02, warmth=0.3),
    "tollgate": Shot(ground="hedge", seed=12, warmth=0.4),
    "paper-lantern": Shot(ground="shelf", seed=17, light=0.95),
    "cartographer": Shot(ground="dark_wall", seed=14, keystone=0.06, foot=(0.58, 0.8)),
}

# the tree, how its roots were taken from above, and how far the camera was turned
ABOVE = {
    "mossback-roots": (
        "mossback", Shot(size_px=(1500, 1150), px_mm=2.6, seed=5, foot=(0.40, 0.47), keystone=0.05, light=1.05, warmth=0.3), -24.0,
    ),
}  # fmt: skip
# before these grounds somebody has drawn a loop round the tree
LOOPED = ("tollgate", "paper-lantern")


def main() -> None:
    """All photographs and the file of their marks."""
    held, species = demo_collection(), tables((), ()).species
    marks: dict[str, dict[str, object]] = {}
    OUT.mkdir(exist_ok=True)
    for key, shot in SHOTS.items():
        planting = held.planting_of(key)
        assert planting is not None
        tree, pot = held.trees[key], held.pots[planting.pot]
        made = render(tree, species.get(tree.species or ""), pot, shot)
        cv2.imwrite(str(OUT / f"{key}.jpg"), made.image, [cv2.IMWRITE_JPEG_QUALITY, 86])
        marks[key] = {
            "soil": _rounded(made.soil_px),
            "known": [_rounded(end) for end in made.pot_px],
            "known_mm": pot.length_mm,
            "card": [_rounded(corner) for corner in made.card_px],
            "card_mm": list(made.card_mm),
        }
        if key in LOOPED:
            view = View.of(made.image, Hints(made.soil_px), 1.0)
            loop = about(made.mask > 0, view)
            assert loop is not None
            marks[key]["loop"] = [[round(float(v)) for v in spot] for spot in loop]
        print(f"{key}.jpg")
    for key, (tree_key, shot, turn_deg) in ABOVE.items():
        roots = held.trees[tree_key].roots
        assert roots is not None
        seen = render_above(held.trees[tree_key], roots, shot, turn_deg=turn_deg)
        cv2.imwrite(str(OUT / f"{key}.jpg"), seen.image, [cv2.IMWRITE_JPEG_QUALITY, 86])
        marks[key] = {
            "tree": tree_key, "view": "above", "how": "card", "soil": _rounded(seen.trunk_px),
            "marker": _rounded(seen.marker_px), "card": [_rounded(corner) for corner in seen.card_px],
            "card_mm": list(seen.card_mm),
        }  # fmt: skip
        print(f"{key}.jpg")
    (OUT / "marks.json").write_text(json.dumps(marks, indent=1) + "\n", encoding="utf-8")


def _rounded(spot: Iterable[float]) -> list[float]:
    return [round(float(v), 1) for v in spot]


if __name__ == "__main__":
    main()
