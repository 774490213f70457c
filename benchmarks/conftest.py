"""Collections of the sizes that are promised, and a private home."""

import os
from pathlib import Path

import pytest

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from kesh.base import paths
from kesh.demo.lanternfield import demo_collection
from kesh.model import Collection, Pot


@pytest.fixture(autouse=True)
def private_home(tmp_path: Path) -> None:
    """Nothing is measured in the real home."""
    paths.set_home(tmp_path / "home")


def many_pots(count: int) -> dict[str, Pot]:
    """The demo's forty pots, each at many sizes: boxes, ovals, rounds, hexagons, lobed and free outlines."""
    base, found = list(demo_collection().pots.values()), {}
    for i in range(count):
        pot, more = base[i % len(base)], (i // len(base)) * 0.3
        length = pot.length_mm + more
        width = length if pot.outline.kind == "round" else pot.width_mm
        found[f"p{i:05}"] = pot.changed(id=f"p{i:05}", length_mm=length, width_mm=width)
    return found


@pytest.fixture(scope="session")
def shelf() -> tuple[Pot, ...]:
    """Ten thousand pots."""
    return tuple(many_pots(10_000).values())


@pytest.fixture(scope="session")
def large() -> Collection:
    """Two thousand trees and ten thousand pots."""
    from dataclasses import replace

    demo = demo_collection()
    base = list(demo.trees.values())
    trees = {f"t{i:04}": base[i % len(base)].changed(id=f"t{i:04}", name=f"Tree {i}") for i in range(2000)}
    return replace(
        demo,
        trees=trees,
        pots=many_pots(10_000),
        plantings=(),
        events=(),
        rejections=(),
        overrides=(),
        lineups={},
        briefs={},
    )
