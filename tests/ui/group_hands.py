"""A hand in step Group: its face, a trunk's row and place, keys."""

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest

from kesh.model import GroupTree, Tree
from kesh.ui.rooms.group.face import GroupFace
from kesh.ui.rooms.group.sheet import GroupSheet
from kesh.ui.window import MainWindow

KEY = Qt.Key


def at_group(window: MainWindow) -> GroupFace:
    window.session.choose_tree("seven-neighbours")
    window.go("group")
    made = window.face("group")
    assert isinstance(made, GroupFace)
    return made


def grove(window: MainWindow) -> Tree:
    tree = window.session.tree
    assert tree is not None
    return tree


def row(window: MainWindow, key: str) -> GroupTree:
    return next(g for g in grove(window).group if g.id == key)


def at(face: GroupFace, key: str) -> QPointF:
    plan = face.plan()
    assert plan is not None
    n = [g.id for g in plan.rows].index(key)
    return face.drawing_sheet.plan_plane().px(plan.x[n], plan.y[n])


def key(sheet: GroupSheet, which: Qt.Key, mods: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
    QTest.keyClick(sheet, which, mods)
