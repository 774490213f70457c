"""Season of three hundred trees with fifteen years of log, and pots shared out among them."""

from dataclasses import replace
from datetime import date

import numpy as np
import pytest
from PyQt6.QtWidgets import QApplication
from pytest_benchmark.fixture import BenchmarkFixture

from kesh.advice.season.book import Book
from kesh.demo.lanternfield import demo_collection
from kesh.model import Collection, Event
from kesh.science.season.assign import share_pots
from kesh.store.collection_file import CollectionFile
from kesh.ui import app
from kesh.ui.settings import Settings

TREES, POTS, YEARS, DAY = 300, 400, 15, date(2027, 3, 1)


def many() -> Collection:
    """The demo's trees and pots over and over, each a little other, with five entries a year."""
    c = demo_collection()
    trees, pots = list(c.trees.values()), list(c.pots.values())
    planted = {t: p for t in c.trees if (p := c.planting_of(t)) is not None}
    shelf = {}
    for k in range(POTS):
        base, f = pots[k % len(pots)], 1 + 0.005 * (k // len(pots))
        shelf[f"p{k}"] = base.changed(
            id=f"p{k}", name=f"{base.name} {k}", length_mm=round(base.length_mm * f, 1), width_mm=round(base.width_mm * f, 1),
            state="in_use" if k < TREES else "shelf", made_for=None, reserved=None,
        )  # fmt: skip
    found, plantings, events = {}, [], []
    for i in range(TREES):
        base_tree = trees[i % len(trees)]
        found[f"t{i}"] = base_tree.changed(id=f"t{i}", name=f"{base_tree.name} {i}", seed=i + 1)
        plantings.append(
            planted[base_tree.id].changed(
                id=f"pl{i}", tree=f"t{i}", pot=f"p{i}", date=date(2024 + i % 3, 3, 10 + i % 15)
            )
        )
        for y in range(YEARS):
            for month, kind in ((3, "repotted"), (5, "pruned"), (6, "fed"), (7, "seen"), (11, "wired")):
                if kind == "repotted" and y % 3 != i % 3:
                    continue
                figures = (("removed_feeder_share", 0.3),) if kind == "repotted" else ()
                events.append(
                    Event.made(
                        id=f"e{i}-{y}-{month}",
                        tree=f"t{i}",
                        date=date(2026 - YEARS + y, month, 12),
                        kind=kind,
                        figures=figures,
                    )
                )
    return replace(
        c, trees=found, pots=shelf, plantings=tuple(plantings), events=tuple(events), briefs={}, lineups={}, rejections=(), overrides=(), tasks=(), orders={}
    )  # fmt: skip


@pytest.fixture(scope="module")
def crowd() -> Collection:
    return many()


def test_the_book_of_three_hundred_trees(benchmark: BenchmarkFixture, crowd: Collection) -> None:
    def work() -> int:
        return len(Book(crowd, DAY).tasks)

    assert benchmark.pedantic(work, rounds=5) > TREES


@pytest.fixture(scope="module")
def window(tmp_path_factory: pytest.TempPathFactory, crowd: Collection):  # type: ignore[no-untyped-def]
    app.application(without_display=True)
    made = app.build(CollectionFile.create(tmp_path_factory.mktemp("crowd") / "crowd.kesh", crowd), Settings())
    made.session.today = DAY
    made.resize(1280, 800)
    made.show()
    yield made
    made.close()


def test_season_opens(benchmark: BenchmarkFixture, window) -> None:  # type: ignore[no-untyped-def]
    def begin() -> None:
        window.go("shelf")
        window.session._kept.clear()

    def work() -> None:
        window.go("season")
        window.grab()

    benchmark.pedantic(work, setup=begin, rounds=5)


def test_season_scrolls(benchmark: BenchmarkFixture, window) -> None:  # type: ignore[no-untyped-def]
    window.go("season")
    chart = window.face("season").desk.chart
    bar = chart.verticalScrollBar()
    window.settle()
    at = iter(range(0, 10**6, 7))

    def frame() -> None:
        bar.setValue(next(at) % bar.maximum())
        chart.viewport().repaint()
        QApplication.processEvents()

    benchmark.pedantic(frame, rounds=120, warmup_rounds=10)


def test_three_hundred_trees_share_four_hundred_pots(benchmark: BenchmarkFixture) -> None:
    r = np.random.default_rng(1)
    kinds = [(70, 96), (78, 106), (104, 131), (170, 206), (141, 165)]
    windows = [kinds[int(k)] for k in r.integers(0, 5, TREES)]
    cost = np.round(r.uniform(0, 100, (TREES, POTS)), 1)
    cost[r.uniform(size=cost.shape) < 0.5] = np.inf
    stay, holds = r.uniform(20, 90, TREES), [int(x) for x in r.permutation(POTS)[:TREES]]
    benchmark.pedantic(lambda: share_pots(cost, stay, holds, windows), rounds=3)
