"""One step painted over the whole window: the shoot of all steps, the drawing, the sentence, the clock, the keys."""

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QFont, QFontMetricsF, QPainter, QPainterPath, QPen, QPolygonF

from kesh.advice.planting.plan import PlantingPlan
from kesh.advice.planting.steps.step import WorkStep
from kesh.base.units import Units
from kesh.desk.bench_work import Clock
from kesh.ui.paint.marks import words
from kesh.ui.paint.step_painter import draw_step
from kesh.ui.rooms.planting.bench.roots_drying import draw_drying_root
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme

SHOWN_STEPS, AFAR, CLOCK_PX = 11, 1.75, 214


@dataclass(frozen=True)
class Key:
    """A key, what it does, and what follows."""

    cap: str
    word: str
    told: str


@dataclass(frozen=True)
class Page:
    """Everything one picture of the bench shows."""

    tree: str
    pot: str
    steps: Sequence[WorkStep]
    at: int
    step: WorkStep
    clock: Clock
    keys: tuple[Key, ...]
    reading: bool
    typed: str
    typed_words: str
    tests: frozenset[str]
    notes: int
    warm: bool
    windy: bool
    said: str


def draw_page(p: QPainter, plan: PlantingPlan, page: Page, t: Theme, wide: float, high: float) -> None:
    """Paint it. All sizes follow the window: what is read from afar is a share of its height."""
    s = min(wide / 1280, high / 800)
    p.fillRect(QRectF(0, 0, wide, high), t.color("sheet"))
    head, foot = 132 * s, 124 * s
    p.fillRect(QRectF(0, 0, wide, head), t.color("panel"))
    p.setPen(QPen(t.color("rule"), 1))
    p.drawLine(QLineF(0, head, wide, head))
    _head(p, page, t, wide, s, plan.u)
    _shoot(p, page, t, wide, s, 84 * s)
    body = QRectF(0, head, wide, high - head - foot)
    split = wide * 0.51
    p.drawLine(QLineF(split, body.top() + 22 * s, split, body.bottom() - 22 * s))
    box = QRectF(26 * s, body.top() + 24 * s, split - 60 * s, body.height() - 56 * s)
    # figures and strokes of the drawing are read from afar as well
    p.save()
    p.scale(AFAR * s, AFAR * s)
    draw_step(
        p,
        plan,
        page.step,
        QRectF(box.left() / (AFAR * s), box.top() / (AFAR * s), box.width() / (AFAR * s), box.height() / (AFAR * s)),
        t,
    )
    p.restore()
    right = QRectF(split + 32 * s, body.top() + 18 * s, wide - split - 64 * s, body.height() - 34 * s)
    _words(p, page, t, right, s)
    _keys(p, page, t, QRectF(0, high - foot, wide, foot), s)


def _font(px: float, *, bold: bool = False, book: bool = False, italic: bool = False) -> QFont:
    size = px * 100 / fonts.scaled(100)
    return fonts.book(size, bold=bold, italic=italic) if book else fonts.text(size, bold=bold)


def _head(p: QPainter, page: Page, t: Theme, wide: float, s: float, u: Units) -> None:
    used = words(p, t, page.tree, 32 * s, 40 * s, font=_font(28 * s, book=True))
    words(p, t, f"into {page.pot}", 32 * s + used + 18 * s, 40 * s, "quiet", font=_font(26 * s, book=True))
    told = [("H", f"over {u.celsius(25)}", page.warm), ("W", "wind", page.windy)]
    x = wide - 32 * s
    x -= words(p, t, "Esc: back to the plan", x, 40 * s, "quiet", font=_font(24 * s), align="right") + 34 * s
    for cap, word, on in reversed(told):
        text = f"{cap}: {word}" + (" ✓" if on else "")
        x -= (
            words(p, t, text, x, 40 * s, "ochre" if on else "quiet", font=_font(20 * s, bold=on), align="right")
            + 26 * s
        )


def _shoot(p: QPainter, page: Page, t: Theme, wide: float, s: float, y: float) -> None:
    """The steps as a shoot: a leaf on each that is done, a ring on the present one, buds on the rest."""
    n = len(page.steps)
    first = max(0, min(page.at - 4, n - SHOWN_STEPS))
    shown = page.steps[first : first + SHOWN_STEPS]
    step = (wide - 144 * s) / max(len(shown) - 1, 1)
    xs = [72 * s + k * step for k in range(len(shown))]
    here = min(page.at - first, len(shown) - 1)
    p.setPen(QPen(t.color("edge"), 1.4 * s))
    p.drawLine(QLineF(xs[here], y, xs[-1] + 16 * s, y))
    p.setPen(QPen(t.color("moss"), 5 * s))
    p.drawLine(QLineF(0, y, xs[here], y))
    for k, (x, one) in enumerate(zip(xs, shown, strict=True)):
        if k < here:
            leaf = QPainterPath(QPointF(x - 4 * s, y))
            leaf.cubicTo(
                QPointF(x - 4 * s, y - 24 * s), QPointF(x + 16 * s, y - 30 * s), QPointF(x + 30 * s, y - 30 * s)
            )
            leaf.cubicTo(QPointF(x + 28 * s, y - 12 * s), QPointF(x + 14 * s, y - 2 * s), QPointF(x - 4 * s, y))
            p.setPen(QPen(t.color("moss"), 1.6 * s))
            p.setBrush(t.color("moss_fill"))
            p.drawPath(leaf)
        elif k == here:
            p.setPen(QPen(t.color("moss"), 4 * s))
            p.setBrush(t.color("sheet"))
            p.drawEllipse(QPointF(x, y), 11 * s, 11 * s)
        else:
            bud = QPainterPath(QPointF(x - 2 * s, y))
            bud.cubicTo(QPointF(x - 3 * s, y - 10 * s), QPointF(x + 4 * s, y - 15 * s), QPointF(x + 10 * s, y - 16 * s))
            bud.cubicTo(QPointF(x + 10 * s, y - 8 * s), QPointF(x + 5 * s, y - 2 * s), QPointF(x - 2 * s, y))
            p.setPen(QPen(t.color("edge"), 1.3 * s))
            p.setBrush(t.color("panel"))
            p.drawPath(bud)
        words(
            p,
            t,
            one.word,
            x,
            y + 36 * s,
            "ink" if k == here else "quiet",
            font=_font(24 * s, bold=k == here),
            align="center",
        )


def _fit_title(text: str, room: float, s: float, *, low: bool) -> tuple[QFont, list[str]]:
    """The largest of some sizes at which a title stands in two lines; in one where the clock leaves little room below."""
    if low:
        for px in (58, 50, 44):
            font = _font(px * s, book=True)
            if QFontMetricsF(font).horizontalAdvance(text) <= room:
                return font, [text]
    for px in (46, 42, 35) if low else (58, 50, 42, 35):
        font = _font(px * s, book=True)
        metrics = QFontMetricsF(font)
        lines: list[str] = []
        for word in text.split(" "):
            if lines and metrics.horizontalAdvance(f"{lines[-1]} {word}") <= room:
                lines[-1] += f" {word}"
            else:
                lines.append(word)
        if len(lines) <= 2 and all(metrics.horizontalAdvance(x) <= room for x in lines):
            return font, lines
    return font, lines


def _words(p: QPainter, page: Page, t: Theme, box: QRectF, s: float) -> None:
    """Which step, what comes next, the sentence, its lines; the clock below while roots lie bare."""
    n = len(page.steps)
    words(
        p,
        t,
        f"Step {page.at + 1} of {n}",
        box.left(),
        box.top() + 24 * s,
        "quiet",
        font=_font(26 * s, book=True, italic=True),
    )
    if page.at + 1 < n:
        after = page.steps[page.at + 1]
        told = f"next: {after.title[0].lower()}{after.title[1:]}"
        font = _font(22 * s)
        told = QFontMetricsF(font).elidedText(told, Qt.TextElideMode.ElideRight, box.width() - 170 * s)
        words(p, t, told, box.right(), box.top() + 24 * s, "quiet", font=font, align="right")
    font, lines = _fit_title(page.step.title, box.width(), s, low=page.clock.runs)
    high = QFontMetricsF(font).height() * 0.8
    y = box.top() + 40 * s
    for line in lines:
        y += high
        words(p, t, line, box.left(), y, font=font)
    y += 22 * s
    p.setPen(QPen(t.color("rule"), 1.2))
    p.drawLine(QLineF(box.left(), y, box.right(), y))
    floor = box.bottom() - (CLOCK_PX * s if page.clock.runs else 0)
    if page.typed or page.typed_words:
        y = _typed(p, page, t, box, y, s)
    _lines(p, page, t, QRectF(box.left(), y, box.width(), floor - y), s)
    if page.clock.runs:
        draw_clock(p, page.clock, t, QRectF(box.left(), floor, box.width(), CLOCK_PX * s), s)


def _typed(p: QPainter, page: Page, t: Theme, box: QRectF, y: float, s: float) -> float:
    """The figure that is being typed."""
    y += 66 * s
    used = words(
        p, t, page.typed or "……", box.left(), y, "moss" if page.typed else "quiet", font=_font(66 * s, bold=True)
    )
    words(p, t, page.typed_words, box.left() + used + 16 * s, y, "quiet", font=_font(24 * s))
    return y + 8 * s


def _lines(p: QPainter, page: Page, t: Theme, box: QRectF, s: float) -> None:
    """Figure and lines; in their place the cautions until they are read."""
    y = box.top()
    step = page.step
    if page.said:
        y += (
            _wrapped(
                p, t, page.said, QRectF(box.left(), y + 8 * s, box.width(), box.height()), 24 * s, "oxide", bold=True
            )
            + 6 * s
        )
    if page.reading and step.cautions:
        for c in step.cautions:
            told = f"Take care. {c.hazard}. {c.care}. Gear: {c.gear[0].lower()}{c.gear[1:]}. Stop: {c.stop[0].lower()}{c.stop[1:]}."
            y += (
                _wrapped(p, t, told, QRectF(box.left(), y + 8 * s, box.width(), box.bottom() - y), 22 * s, "ochre")
                + 8 * s
            )
        _wrapped(
            p,
            t,
            "Usual cautions; local rules and qualified people come first.",
            QRectF(box.left(), y + 8 * s, box.width(), 60 * s),
            19 * s,
            "quiet",
        )
        return
    # where the clock leaves little room the lines come before a large figure
    tight = page.clock.runs and len(step.lines) > 1
    if step.figure and not page.typed and not page.typed_words:
        y += (44 if tight else 62) * s
        used = words(p, t, step.figure, box.left(), y, font=_font((40 if tight else 62) * s, bold=True))
        _wrapped(
            p,
            t,
            step.figure_words,
            QRectF(box.left() + used + 16 * s, y - 27 * s, box.width() - used - 16 * s, 70 * s),
            24 * s,
            "ink",
        )
        y += 10 * s
    for n, line in enumerate(step.lines):
        mark = ""
        if step.checks:
            key = step.checks[n]
            mark = ("☑ " if key in page.tests else "☐ ") + f"{n + 1}  "
        size = (23 if len(step.lines) <= 2 or (not page.clock.runs and len(step.lines) <= 5) else 20) * s
        room = box.bottom() - y
        used = (
            QFontMetricsF(_font(size))
            .boundingRect(QRectF(0, 0, box.width(), 4000), int(Qt.TextFlag.TextWordWrap), mark + line)
            .height()
        )
        if used + 6 * s > room:
            break
        y += (
            _wrapped(
                p,
                t,
                mark + line,
                QRectF(box.left(), y + 6 * s, box.width(), room),
                size,
                "ink" if step.checks else "quiet",
            )
            + 5 * s
        )


def _wrapped(p: QPainter, t: Theme, text: str, box: QRectF, px: float, role: str, *, bold: bool = False) -> float:
    font = _font(px, bold=bold)
    p.setFont(font)
    p.setPen(t.color(role))
    used = p.boundingRect(box, int(Qt.TextFlag.TextWordWrap), text)
    p.drawText(box, int(Qt.TextFlag.TextWordWrap), text)
    return float(min(used.height(), box.height()))


def draw_clock(p: QPainter, clock: Clock, t: Theme, box: QRectF, s: float) -> None:
    """Minutes bare, what is due, and a root that dries along the line of minutes."""
    y = box.top() + 62 * s
    bare = f"{int(clock.bare_min)}"
    role = "indigo" if clock.in_water else {"": "ink", "mist": "indigo", "cover": "oxide"}[clock.due]
    used = words(p, t, bare, box.left(), y, role, font=_font(76 * s, bold=True))
    words(p, t, "minutes", box.left() + used + 14 * s, y - 32 * s, font=_font(25 * s))
    words(p, t, "in water" if clock.in_water else "roots bare", box.left() + used + 14 * s, y, font=_font(25 * s))
    mist, cover = clock.prompts.mist_min, clock.prompts.cover_min
    if mist is None or cover is None:
        words(p, t, "may dry", box.right(), y, "quiet", font=_font(30 * s, bold=True), align="right")
        return
    told = (
        "clock rests"
        if clock.in_water
        else {"": f"mist at {mist:g}", "mist": "mist now", "cover": "cover or water now"}[clock.due]
    )
    words(
        p,
        t,
        told,
        box.right(),
        y,
        "oxide" if clock.due == "cover" else "indigo",
        font=_font(34 * s, bold=True),
        align="right",
    )
    strip = QRectF(box.left(), y + 18 * s, box.width(), box.bottom() - y - 62 * s)
    draw_drying_root(p, t, strip, min(clock.dry_min / cover, 1.0), s)
    line = strip.bottom() + 6 * s
    at = box.left() + min(clock.dry_min / cover, 1.0) * box.width()
    p.setPen(QPen(t.color("ochre"), 6 * s))
    p.drawLine(QLineF(box.left(), line, at, line))
    p.setPen(QPen(t.color("ink"), 1.6 * s))
    p.drawLine(QLineF(at, line, box.right(), line))
    p.setBrush(t.color("ink"))
    p.setPen(Qt.PenStyle.NoPen)
    p.drawPolygon(
        QPolygonF(
            [
                QPointF(at - 9 * s, strip.top() - 4 * s),
                QPointF(at + 9 * s, strip.top() - 4 * s),
                QPointF(at, strip.top() + 9 * s),
            ]
        )
    )
    p.setPen(QPen(t.color("ink"), 2 * s))
    p.drawLine(QLineF(at, strip.top(), at, line))
    for minutes, role, told in (
        (0.0, "quiet", "0"),
        (mist, "indigo", f"{mist:g}"),
        (cover, "oxide", f"{cover:g} cover"),
    ):
        x = box.left() + minutes / cover * box.width()
        align = "left" if minutes == 0 else "right" if minutes == cover else "center"
        p.setPen(QPen(t.color(role), 2 * s))
        p.drawLine(QLineF(x, line, x, line + 9 * s))
        words(p, t, told, x, line + 32 * s, role, font=_font(24 * s, bold=minutes > 0), align=align)
    words(
        p,
        t,
        "min since wet",
        box.left() + 0.25 * box.width(),
        line + 32 * s,
        "quiet",
        font=_font(19 * s),
        align="center",
    )


def _fitted(text: str, px: float, room: float, *, bold: bool = False) -> QFont:
    """The font in which a word stands in its room, down to six tenths of its size."""
    for share in (1.0, 0.88, 0.76, 0.6):
        font = _font(px * share, bold=bold)
        if QFontMetricsF(font).horizontalAdvance(text) <= room:
            break
    return font


def _keys(p: QPainter, page: Page, t: Theme, box: QRectF, s: float) -> None:
    """Four keys with what they do; the first is the main one."""
    p.fillRect(box, t.color("panel"))
    p.setPen(QPen(t.color("rule"), 1))
    p.drawLine(QLineF(box.left(), box.top(), box.right(), box.top()))
    wide = [0.262, 0.217, 0.243, 0.278]
    x = box.left()
    for n, key in enumerate(page.keys):
        here = QRectF(x, box.top(), wide[n] * box.width(), box.height())
        main = n == 0
        if main:
            p.fillRect(here, t.color("moss"))
        elif n:
            p.setPen(QPen(t.color("rule"), 1))
            p.drawLine(QLineF(x, here.top() + 18 * s, x, here.bottom() - 18 * s))
        cap_wide = (126 if len(key.cap) > 1 else 78) * s
        cap = QRectF(x + 24 * s, here.top() + 25 * s, cap_wide, 74 * s)
        p.setPen(QPen(t.color("sheet") if main else t.color("edge"), 2 * s))
        p.setBrush(t.color("moss") if main else t.color("field"))
        p.drawRoundedRect(cap, 4 * s, 4 * s)
        p.setFont(_font(32 * s, bold=True))
        p.setPen(t.color("sheet" if main else "ink"))
        p.drawText(cap, Qt.AlignmentFlag.AlignCenter, key.cap)
        left = cap.right() + 18 * s
        room = here.right() - left - 6 * s
        big, small = _fitted(key.word, 33 * s, room, bold=True), _fitted(key.told, 23 * s, room)
        words(
            p,
            t,
            QFontMetricsF(big).elidedText(key.word, Qt.TextElideMode.ElideRight, room),
            left,
            here.top() + 60 * s,
            "sheet" if main else "ink",
            font=big,
        )
        words(
            p,
            t,
            QFontMetricsF(small).elidedText(key.told, Qt.TextElideMode.ElideRight, room),
            left,
            here.top() + 94 * s,
            "sheet" if main else "quiet",
            font=small,
        )
        x = here.right()
