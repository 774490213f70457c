"""What the tests of the Workshop share: the design in hand and where its grips are."""

from PyQt6.QtCore import QPointF

from kesh.model import Pot
from kesh.ui.rooms.workshop.views import DesignSheet
from kesh.ui.window import MainWindow


def pot(window: MainWindow) -> Pot:
    return window.session.collection.pots[window.face("workshop").pot_id]


def grip(view: DesignSheet, key: str) -> QPointF:
    one = next(g for g in view.grips() if g.key == key)
    return view.px(one.x, one.y)
