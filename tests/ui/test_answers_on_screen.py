"""The three answers in the window: signs told by shape, findings under their question, and no half sentence on a card."""

from itertools import pairwise

import numpy as np
import pytest
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QFontMetricsF
from PyQt6.QtTest import QTest

from kesh.advice.answers import QUESTIONS, question_of
from kesh.base.status import gravity
from kesh.ui.paint.answer_marks import answer_mark
from kesh.ui.rooms.lineup.lineup_painter import _that_fits
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import LIGHT, STATUS_ROLE
from kesh.ui.widgets.finding_list import FindingList
from kesh.ui.window import MainWindow
from tests.ui.test_painting import canvas, pixels

STATUSES = ("fits", "watch", "no", "unknown")


def shape(question: str, status: str) -> np.ndarray:
    """Where a sign leaves ink, whatever its colour."""
    image, painter = canvas(60, 60)
    answer_mark(painter, LIGHT, question, status, 30, 30, 40)
    painter.end()
    return np.asarray(pixels(image)[:, :, 3] > 100)


@pytest.mark.usefixtures("qapp")
@pytest.mark.parametrize("question", QUESTIONS)
def test_without_colour_each_answer_is_told_from_the_others(question: str) -> None:
    inks = {status: shape(question, status) for status in STATUSES}
    assert inks["fits"].sum() > inks["watch"].sum() > inks["no"].sum()
    for one in STATUSES:
        for other in STATUSES[STATUSES.index(one) + 1 :]:
            assert (inks[one] ^ inks[other]).mean() > 0.01, (one, other)
    assert len({STATUS_ROLE[s] for s in STATUSES}) == len(STATUSES)


@pytest.mark.usefixtures("qapp")
@pytest.mark.parametrize("status", STATUSES)
def test_the_three_signs_are_three_shapes(status: str) -> None:
    inks = [shape(question, status) for question in QUESTIONS]
    for n, one in enumerate(inks):
        rows, cols = np.nonzero(one)
        assert rows.min() > 5
        assert rows.max() < 55
        assert cols.min() > 5
        assert cols.max() < 55
        assert all((one ^ other).mean() > 0.03 for other in inks[n + 1 :])


@pytest.mark.usefixtures("qapp")
@pytest.mark.parametrize("lines", [1, 2, 3])
def test_a_part_without_room_is_left_out_whole(lines: int) -> None:
    metrics = QFontMetricsF(fonts.text(13))
    parts = ("35 min", "55% of roots, in 2 repottings", "30 mm off the bottom")
    told = _that_fits("; ".join(parts), metrics, QRectF(0, 0, 130, lines * metrics.lineSpacing()))
    assert told in {"; ".join(parts[:n]) for n in (1, 2, 3)}
    long = _that_fits("wonderfully_long_unbroken " * 9, metrics, QRectF(0, 0, 130, metrics.lineSpacing()))
    assert long.endswith("…")
    assert metrics.horizontalAdvance(long) <= 131


def list_of(window: MainWindow, tree: str, pot: str) -> FindingList:
    window.session.choose_tree(tree)
    window.go("line-up")
    window.face("line-up").columns.choose(pot)
    found: list[FindingList] = [one for one in window.findChildren(FindingList) if one.isVisible()]
    assert len(found) == 1
    return found[0]


def test_findings_stand_under_their_question_the_gravest_answer_first(window: MainWindow) -> None:
    shown = list_of(window, "honeyjar", "chalk-oval")
    heads = sorted((h for h in shown.heads.values() if h.isVisible()), key=lambda h: h.y())
    assert [gravity(h.status) for h in heads if h.question != "record"] == sorted(
        gravity(h.status) for h in heads if h.question != "record"
    )
    for row in shown.rows:
        above = [h for h in heads if h.y() < row.y()]
        assert above[-1].question == question_of(row.finding.code)
    assert all(row.finding.status != "fits" for row in shown.rows)
    # folded ones come out by the mouse, and go in again
    listed = len(shown.rows)
    QTest.mouseClick(shown._more, Qt.MouseButton.LeftButton)
    assert len(shown.rows) == len(shown.findings) > listed
    QTest.mouseClick(shown._more, Qt.MouseButton.LeftButton)
    assert len(shown.rows) == listed


def test_rows_never_lie_over_one_another_however_wide_the_panel(window: MainWindow, qapp: object) -> None:
    shown = list_of(window, "honeyjar", "chalk-oval")
    for width in (1280, 1500, 1100):
        window.resize(width, 800)
        QTest.qWait(50)
        ordered = sorted((w for w in (*shown.rows, *shown.heads.values()) if w.isVisible()), key=lambda w: w.y())
        for one, other in pairwise(ordered):
            assert one.y() + one.height() <= other.y() + 1
        for row in shown.rows:
            assert row.height() >= row.heightForWidth(row.width())
