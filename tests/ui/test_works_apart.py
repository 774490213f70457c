"""Whatever the window asks of another process goes there and comes back: the same as when it is done here."""

import json
from collections.abc import Callable, Iterator
from datetime import date
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QPainterPath
from pytestqt.qtbot import QtBot

from kesh.advice.case import case_for
from kesh.advice.design.aims import design_case
from kesh.advice.design.search import solve
from kesh.advice.routes.printer import PrintWishes
from kesh.advice.routes.routes import job
from kesh.advice.routes.wishes import MakerWishes
from kesh.advice.sensitivity import sensitivity
from kesh.advice.water.short import pots_years, short_of
from kesh.advice.water.year import YearAsked, years_of
from kesh.base.apart import Helper
from kesh.base.errors import FieldError, KeshError
from kesh.base.progress import Progress
from kesh.base.units import Units
from kesh.demo.lanternfield import demo_collection
from kesh.desk.mixes import tried
from kesh.desk.shelf import suits
from kesh.figure.grove import sitter
from kesh.figure.silhouette import silhouette
from kesh.formats.bundle import bring_bundle, bundle_of
from kesh.formats.lists.any import read_list
from kesh.formats.lists.pots import write_pots
from kesh.formats.mesh import stl
from kesh.formats.mesh_in import pot_of_mesh
from kesh.geometry.solid import solid
from kesh.photo.silhouette import cut_tree
from kesh.photo.view import Hints
from kesh.reference.tables import tables
from kesh.ui.paint.gallery import Gallery, _packed, _unpacked, view_of
from kesh.ui.rooms.water.face import _depths_of
from kesh.ui.runner import Runner
from kesh.ui.theme.tokens import LIGHT

DEMO, TODAY = demo_collection(), date(2026, 3, 10)
NO_BED = MakerWishes(own={"print": PrintWishes(bed_mm=(12.0, 12.0, 12.0))})
POTS = tuple(DEMO.pots.values())
TREE = DEMO.trees["old-ferryman"]
SPECIES = tables(DEMO.species_rows, DEMO.substrate_rows).species.get(TREE.species)


@pytest.fixture(scope="module")
def helper() -> Iterator[Helper]:
    made = Helper()
    yield made
    made.close()


def both(helper: Helper, work: Callable[..., Any], *told: Progress) -> tuple[Any, Any]:
    return work(*told), helper.run(work, *told)


def test_the_solver_finds_the_same_designs(helper: Helper) -> None:
    case = design_case(DEMO, "tollgate", today=TODAY)
    here, there = both(helper, partial(solve, case, None, count=800))
    assert here.designs
    assert [d.pot for d in here.designs] == [d.pot for d in there.designs]
    assert [d.looks for d in here.designs] == [d.looks for d in there.designs]


@pytest.mark.parametrize("route", ["potter", "print", "box", "tube", "drill"])
def test_every_maker_s_work_comes_back_whole(helper: Helper, route: str) -> None:
    pot = DEMO.pots["celandine-round"]
    here, there = both(helper, partial(job, route, pot, case_for(DEMO, "old-ferryman"), MakerWishes()))
    assert (here.title, here.bill, here.steps) == (there.title, there.bill, there.steps)
    assert [name for name, _ in here.solids] == [name for name, _ in there.solids]
    assert [s.volume for _, s in here.solids] == pytest.approx([s.volume for _, s in there.solids])


def test_what_a_maker_cannot_do_is_refused_in_the_same_words(helper: Helper) -> None:
    work = partial(job, "print", DEMO.pots["celandine-round"], None, NO_BED)
    with pytest.raises(FieldError) as here:
        work()
    with pytest.raises(FieldError) as there:
        helper.run(work)
    assert str(here.value) == str(there.value)


def test_weights_of_measures_and_trees_for_a_pot(helper: Helper) -> None:
    here, there = both(helper, partial(sensitivity, case_for(DEMO, "old-ferryman"), POTS[:4]))
    assert here == there
    here, there = both(helper, partial(suits, DEMO, POTS[3], TODAY, Units()))
    assert here
    assert here == there


def test_the_year_in_pots(helper: Helper) -> None:
    stands = tuple((case_for(DEMO, "mossback", pot_id=p.id), p) for p in (POTS[0], DEMO.pots["tide-slab"]))
    here, there = both(helper, partial(years_of, stands, YearAsked(years=4)))
    assert np.array_equal(here[0].many.waterings, there[0].many.waterings)
    assert here[0].usual.irrigation_l == there[0].usual.irrigation_l
    # what cannot be told is the same sentence
    assert here[1] == there[1]
    assert "holds no drained mix" in here[1]


def test_years_in_words_water_by_depth_and_mixes_tried(helper: Helper) -> None:
    planting = DEMO.planting_of("mossback")
    assert planting is not None
    case, pot = case_for(DEMO, "mossback", pot_id=planting.pot, today=TODAY), DEMO.pots[planting.pot]
    here, there = both(helper, partial(pots_years, case, (pot,), YearAsked(years=4)), Progress())
    assert {key: short_of(one) for key, one in here.items()} == {key: short_of(one) for key, one in there.items()}
    here, there = both(helper, partial(_depths_of, case, pot, TODAY, YearAsked()))
    assert np.array_equal(here.drying.water, there.drying.water)
    here, there = both(helper, partial(tried, case, pot, tuple(DEMO.mixes.values())))
    assert here == there
    here, there = both(helper, partial(years_of, ((case, pot),), YearAsked("daily", years=4, helps=True)))
    assert here[0].helps == there[0].helps
    assert here[0].places == there[0].places


def test_lists_bundles_and_meshes(helper: Helper, tmp_path: Path) -> None:
    table, bundle, mesh = tmp_path / "pots.csv", tmp_path / "all.json", tmp_path / "pot.stl"
    write_pots(table, (p for p in POTS if p.outline.kind != "free"))
    bundle.write_text(json.dumps(bundle_of(DEMO)))
    mesh.write_bytes(stl(solid(DEMO.pots["ferry-tray"])))
    work = partial(read_list, table, (), (), tables().species, TODAY)
    assert helper.run(work, Progress()) == work(Progress())
    brought = helper.run(partial(bring_bundle, bundle), Progress())
    assert (brought.collection.pots, brought.collection.trees) == (DEMO.pots, DEMO.trees)
    here, there = both(helper, partial(pot_of_mesh, mesh, "mm", "m1"))
    assert here == there


def test_a_cut_out(helper: Helper) -> None:
    image = np.full((240, 180, 3), 205, np.uint8)
    image[60:200, 84:96], image[30:110, 40:140] = (60, 80, 100), (60, 110, 70)
    here, there = both(helper, partial(cut_tree, image, Hints((90.0, 199.0), None, None)), Progress())
    assert (here.mask > 0).sum() > 5000
    np.testing.assert_array_equal(here.mask, there.mask)
    np.testing.assert_array_equal(here.others, there.others)
    assert here.doubt == there.doubt


def test_pictures_and_outlines_of_trees(helper: Helper) -> None:
    view = view_of(TREE, SPECIES, LIGHT, 0.3, 2.0)
    assert view is not None
    (one, at), (other, there) = (_unpacked(p) for p in both(helper, partial(_packed, view)))
    assert one == other
    assert (one.devicePixelRatio(), at) == (2.0, there)
    here, far = both(helper, partial(silhouette, view.sitter))
    assert far.area == here.area > 0


# the gallery, with a runner whose work is done by hand -----------------------------------------------------------


class ByHand(Runner):
    """Keeps what it was asked for until the test lets it be done."""

    def __init__(self) -> None:
        super().__init__(at_once=True)
        self.asked: list[tuple[Callable[[], Any], Callable[[Any], None]]] = []
        self.broken = False

    def start(self, topic: str, work: Callable[[], Any], done: Callable[[Any], None]) -> None:
        self.asked.append((work, done))

    def apart(self, work: Callable[..., Any], progress: Progress | None = None, *, wait: bool = True) -> Any:
        if self.broken:
            raise KeshError("ended from outside")
        return work()

    def do_all(self) -> None:
        asked, self.asked = self.asked, []
        for work, done in asked:
            done(work())


def taller(times: float) -> Any:
    found = sitter(TREE.changed(measures=(TREE.measure.changed(height_mm=TREE.measure.height_mm * times),)), SPECIES)
    assert found is not None
    return found


def test_an_outline_is_stretched_until_the_new_one_is_drawn(qtbot: QtBot) -> None:
    runner = ByHand()
    gallery = Gallery(runner)
    now, then = taller(1.0), taller(1.5)
    assert gallery.outline(now) is None
    assert gallery.outline(now) is None
    assert len(runner.asked) == 1
    with qtbot.waitSignal(gallery.ready):
        runner.do_all()
    first = gallery.outline(now)
    assert isinstance(first, QPainterPath)
    meanwhile = gallery.outline(then)
    assert meanwhile is not None
    assert meanwhile.boundingRect().height() == pytest.approx(1.5 * first.boundingRect().height(), rel=0.01)
    runner.do_all()
    own = gallery.outline(then)
    assert own is not None
    assert own.boundingRect().height() > 1.3 * first.boundingRect().height()
    assert not runner.asked
    # another tree does not borrow its outline
    other = DEMO.trees["grey-heron"]
    strange = sitter(other, None)
    assert strange is not None
    assert gallery.outline(strange) is None


def test_of_a_drag_s_many_outlines_only_the_last_is_drawn(qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    drawn: list[Any] = []
    monkeypatch.setattr("kesh.ui.paint.gallery.silhouette", lambda s: drawn.append(s) or silhouette(s))
    runner = ByHand()
    gallery = Gallery(runner)
    wanted = [taller(1 + 0.05 * k) for k in range(6)]
    for one in wanted:
        gallery.outline(one)
    works = [work for work, _ in runner.asked]
    assert [work() is None for work in works] == [True] * 5 + [False]
    assert drawn == wanted[-1:]


def test_a_tree_is_drawn_here_when_the_other_process_was_ended(qtbot: QtBot) -> None:
    runner = ByHand()
    runner.broken = True
    gallery = Gallery(runner)
    view = view_of(TREE, SPECIES, LIGHT, 0.31, 1.0)
    assert view is not None
    assert gallery.picture(view) is None
    runner.do_all()
    found = gallery.picture(view)
    assert found is not None
    assert found[0].height() > 0.31 * TREE.measure.height_mm * 0.8
    assert isinstance(found[1], QPointF)
