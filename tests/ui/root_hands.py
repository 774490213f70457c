"""What tests of step Roots do by hand: go there with a tree, and find a place of the tree on the sheet."""

import numpy as np
from PyQt6.QtCore import QPointF

from kesh.ui.rooms.roots.face import RootsFace
from kesh.ui.window import MainWindow


def at_roots(window: MainWindow, tree: str) -> RootsFace:
    """The step with a tree in hand."""
    window.session.choose_tree(tree)
    planting = window.session.planting
    assert planting is not None
    # 12 mm of fresh mix under the roots, as its keeper set it
    window.session.edit("Mix below", [("planting", planting.id, planting.changed(base_layer_mm=12.0))])
    window.go("roots")
    face = window.face("roots")
    assert isinstance(face, RootsFace)
    return face


def spot(face: RootsFace, point: tuple[float, float]) -> QPointF:
    """A place from above, mm from the trunk's middle, on the sheet."""
    stand = face.map.stand
    assert stand is not None
    return face.map.to_px(stand, np.array([point]))[0]
