"""One record that cannot be computed or drawn is a sentence on the sheet, in every room."""

from collections.abc import Callable
from dataclasses import replace

import pytest

from kesh.base.errors import FieldError
from kesh.model import Collection
from kesh.ui.rooms import ROOMS
from kesh.ui.window import MainWindow
from tests.ui.conftest import Opener

Change = Callable[[Collection], Collection]


def trunk_outside_its_roots(c: Collection) -> Collection:
    tree = c.trees["old-ferryman"]
    assert tree.roots is not None
    odd = tree.changed(root_masses=(tree.roots.changed(offset_x_mm=900.0),))
    return replace(c, trees={**c.trees, tree.id: odd})


def nobody_knows_the_material(c: Collection) -> Collection:
    return replace(c, pots={key: pot.changed(material="cheese") for key, pot in c.pots.items()})


def a_tree_of_a_tenth_of_a_millimetre(c: Collection) -> Collection:
    tree = c.trees["old-ferryman"]
    odd = tree.changed(measures=(tree.measure.changed(height_mm=0.1, trunk_diameter_mm=0.1),))
    return replace(c, trees={**c.trees, tree.id: odd})


def a_species_and_a_mix_nobody_has(c: Collection) -> Collection:
    trees = {key: tree.changed(species="unheard_of") for key, tree in c.trees.items()}
    plantings = tuple(p.changed(mix="gone") for p in c.plantings)
    return replace(c, trees=trees, plantings=plantings)


@pytest.mark.parametrize(
    "change",
    [
        trunk_outside_its_roots,
        nobody_knows_the_material,
        a_tree_of_a_tenth_of_a_millimetre,
        a_species_and_a_mix_nobody_has,
    ],
)
@pytest.mark.usefixtures("no_years")
def test_every_room_opens_and_paints(open_window: Opener, demo: Collection, change: Change) -> None:
    window = open_window(change(demo))
    for room in ROOMS:
        window.go(room.key)
        for view, _ in window.here.views() or (("", ""),):
            if view:
                window.show_view(view)
            assert not window.grab().isNull()
    window.go("workshop")
    window.face("workshop").desk.list.choose("ferry-tray")
    window.grab()


def test_a_sheet_that_cannot_be_painted_says_why(window: MainWindow, monkeypatch: pytest.MonkeyPatch) -> None:
    view, said = window.face("tree").front, []
    whole = type(view)._say_fault

    def fails(painter: object) -> None:
        raise FieldError("outline", "it crosses itself")

    monkeypatch.setattr(view, "paint", fails)
    monkeypatch.setattr(type(view), "_say_fault", lambda s, p, reason: (said.append(reason), whole(s, p, reason)))
    assert not view.grab().isNull()
    assert said
    assert "crosses itself" in said[0]
