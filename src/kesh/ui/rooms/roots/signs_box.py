"""Before you lift: seven signs, each with a small drawing and its answers, and what they say together."""

from collections.abc import Callable, Mapping
from functools import partial

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from kesh.desk.before_lift import STATUS, verdict_words
from kesh.science.season.before_lift import ANSWERS, ASKED, BeforeLift
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice, SectionHead, button, quiet

SIGN_PX = 30


class SignDrawing(QWidget):
    """One sign as it looks with its answer."""

    def __init__(self, session: Session, sign: str) -> None:
        super().__init__()
        self._session, self._sign, self._value = session, sign, ""
        self.refit()

    def refit(self) -> None:
        """Follow the text size."""
        self.setFixedSize(fonts.scaled(SIGN_PX), fonts.scaled(SIGN_PX))

    def show_value(self, value: str) -> None:
        """Show another answer; empty while nobody looked."""
        if value != self._value:
            self._value = value
            self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, t = QPainter(self), self._session.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        k = self.width() / 30
        painter.scale(k, k)
        ink = t.color("ink" if self._value else "edge")
        painter.setPen(QPen(ink, 1.3, cap=Qt.PenCapStyle.RoundCap))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        getattr(self, f"_{self._sign}")(painter)

    def _buds(self, p: QPainter) -> None:
        t, size = (
            self._session.theme,
            {"resting": 3.0, "swelling": 5.0, "opening": 6.0, "in_leaf": 4.0}.get(self._value, 4.0),
        )
        p.drawLine(QLineF(6, 26, 15, 15))
        p.setBrush(t.color("moss_fill" if self._value in ("swelling", "opening", "in_leaf") else "sheet"))
        bud = QPainterPath(QPointF(15, 15))
        bud.cubicTo(15 - size, 15 - size, 18 - size * 0.4, 13 - 1.8 * size, 15 + 1.3 * size, 15 - 1.9 * size)
        bud.cubicTo(16 + size, 14, 15 + size, 15, 15, 15)
        p.drawPath(bud)
        if self._value in ("opening", "in_leaf"):
            p.drawEllipse(QRectF(17, 4, 9, 5))
            p.drawEllipse(QRectF(19, 11, 9, 5))

    def _white_tips(self, p: QPainter) -> None:
        t, count = self._session.theme, {"none": 0, "few": 1, "many": 3}.get(self._value, 0)
        for n, x in enumerate((7, 15, 23)):
            p.drawLine(QLineF(15, 3, x, 18))
            if n in ((1,) if count == 1 else range(count)):
                p.save()
                p.setPen(QPen(t.color("indigo"), 3.6, cap=Qt.PenCapStyle.RoundCap))
                p.drawLine(QLineF(x, 19, x + (x - 15) * 0.25, 26))
                p.restore()
            else:
                p.drawLine(QLineF(x, 18, x + (x - 15) * 0.2, 25))

    def _cut_colour(self, p: QPainter) -> None:
        t = self._session.theme
        p.drawEllipse(QRectF(5, 5, 20, 20))
        p.setBrush(t.color({"pale": "ochre_tint", "brown": "bark_dark"}.get(self._value, "sheet")))
        p.drawEllipse(QRectF(8, 8, 14, 14))
        p.drawEllipse(QRectF(13, 13, 4, 4))

    def _smell(self, p: QPainter) -> None:
        t = self._session.theme
        p.setBrush(t.color("soil" if self._value else "sheet"))
        p.drawRect(QRectF(5, 19, 20, 7))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(t.color("oxide" if self._value == "sour" else "moss" if self._value else "edge"), 1.4))
        for x in (10, 15, 20):
            path = QPainterPath(QPointF(x, 17))
            path.cubicTo(x - 4, 13, x + 4, 9, x, 4)
            p.drawPath(path)

    def _wobble(self, p: QPainter) -> None:
        tilt = 5 if self._value == "loose" else 0
        p.drawPolygon(QPolygonF([QPointF(11, 24), QPointF(13 + tilt, 5), QPointF(17 + tilt, 5), QPointF(19, 24)]))
        p.drawLine(QLineF(4, 24, 26, 24))
        if self._value == "loose":
            p.drawArc(QRectF(4, 3, 10, 10), 60 * 16, 110 * 16)

    def _leaves(self, p: QPainter) -> None:
        t, wilted = self._session.theme, self._value == "wilted"
        if self._value == "none":
            p.drawLine(QLineF(6, 25, 24, 6))
            p.drawLine(QLineF(15, 16, 22, 18))
            return
        p.setBrush(t.color("ochre_fill" if wilted else "moss_fill" if self._value else "sheet"))
        leaf = QPainterPath(QPointF(8, 22 if not wilted else 8))
        leaf.cubicTo(6, 10, 14, 5, 24, 6 if not wilted else 24)
        leaf.cubicTo(25, 16, 18, 24, 8, 22 if not wilted else 8)
        p.drawPath(leaf)

    def _work(self, p: QPainter) -> None:
        p.drawRect(QRectF(5, 7, 20, 18))
        p.drawLine(QLineF(5, 12, 25, 12))
        for x in (10, 20):
            p.drawLine(QLineF(x, 4, x, 9))
        if self._value == "recent":
            p.setPen(QPen(self._session.theme.color("oxide"), 1.8))
            p.drawLine(QLineF(10, 16, 20, 22))
            p.drawLine(QLineF(20, 16, 10, 22))


class SignsBox(QWidget):
    """`answered` is called with a sign and its answer; empty takes it back. `view` with whether white tips stop the work.

    `instead` is called with "nothing" or "next" where the signs do not say go.
    """

    def __init__(
        self, session: Session, answered: Callable[[str, str], object], view: Callable[[bool], object],
        instead: Callable[[str], object],
    ) -> None:  # fmt: skip
        super().__init__()
        self._session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        self.head, self.verdict, self.text = SectionHead(session, "Before you lift"), QLabel(""), quiet("")
        self.season = quiet("")
        # what else is a good answer when the signs do not say go
        self.ways = QWidget()
        ways = QHBoxLayout(self.ways)
        ways.setContentsMargins(0, 0, 0, 0)
        for text, key in (("Cut nothing this time", "nothing"), ("Wait for the next season", "next")):
            ways.addWidget(button(text, partial(instead, key), link=True))
        ways.addStretch(1)
        for made in (self.head, self.verdict, self.text, self.ways, self.season):
            column.addWidget(made)
        self.drawings: dict[str, SignDrawing] = {}
        self.answers: dict[str, Choice] = {}
        for sign, options in ANSWERS.items():
            line = QHBoxLayout()
            line.setSpacing(8)
            self.drawings[sign] = SignDrawing(session, sign)
            choice = self.answers[sign] = Choice({"": "not looked"} | dict(options), ASKED[sign])
            choice.chosen.connect(lambda value, s=sign: answered(s, value))
            line.addWidget(self.drawings[sign])
            line.addWidget(QLabel(ASKED[sign]), 1)
            line.addWidget(choice)
            column.addLayout(line)
        self.tips = Choice({"stop": "growing tips: wait", "care": "growing tips: with care"}, "View on white root tips")
        self.tips.chosen.connect(lambda key: view(key == "stop"))
        column.addWidget(self.tips)

    def show_signs(self, seen: Mapping[str, str], lift: BeforeLift, season: str, *, tips_stop: bool) -> None:
        """Show other answers and what they say, and where the day lies."""
        self.season.setText(season)
        for sign, choice in self.answers.items():
            value = seen.get(sign, "")
            choice.show_key(value)
            self.drawings[sign].show_value(value)
        head, text = verdict_words(lift)
        role = {"fits": "moss", "watch": "ochre", "no": "oxide"}[STATUS[lift.verdict]] if lift.told else "quiet"
        self.verdict.setText(f"<b>{head}</b>")
        self.verdict.setStyleSheet(f"color: {self._session.theme.color(role).name()}")
        self.text.setText(text)
        self.ways.setVisible(bool(lift.told) and lift.verdict != "go")
        self.head.set_note(f"{len(seen)} of {len(ANSWERS)} looked at")
        self.tips.show_key("stop" if tips_stop else "care")
