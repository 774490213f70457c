"""The work step by step with boxes to tick, what follows it, and lines for what was done otherwise."""

from collections.abc import Iterator

from PyQt6.QtCore import QLineF, QRectF
from PyQt6.QtGui import QFontMetricsF, QPen

from kesh.advice.planting.steps.step import FINISH_TESTS, WorkStep
from kesh.ui.paint.marks import words
from kesh.ui.paint.step_painter import draw_step
from kesh.ui.paper.worksheet.sheet import BODY, EDGE, Sheet
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import LIGHT


def work_pages(sheet: Sheet) -> None:
    steps = sheet.plan.steps
    y = sheet.rule("The work", EDGE, 78, sheet.room, "tick as you go")
    for n, step in enumerate(steps):
        tall = max(_step_tall(sheet, step), 150.0)
        if y + tall > sheet.foot:
            sheet.turn()
            y = sheet.rule("The work", EDGE, 78, sheet.room, "went on")
        _step(sheet, step, n, y, tall)
        y += tall + 12
    _after(sheet, y)


def _lines(sheet: Sheet, step: WorkStep) -> Iterator[str]:
    if step.figure:
        yield f"{step.figure} {step.figure_words}".strip()
    if not step.checks:
        yield from step.lines


def _step_tall(sheet: Sheet, step: WorkStep) -> float:
    width = sheet.room - 250
    checks = sum(sheet.tall(FINISH_TESTS[k], width - 30) + 8 for k in step.checks)
    return 44 + sum(sheet.tall(x, width) + 6 for x in _lines(sheet, step)) + checks


def _step(sheet: Sheet, step: WorkStep, n: int, y: float, tall: float) -> None:
    p = sheet.p
    sheet.box(EDGE, y + 24, 22)
    picture = QRectF(EDGE + 36, y + 4, 190, min(tall - 12, 140))
    draw_step(p, sheet.plan, step, picture, LIGHT, small=True)
    x, width = EDGE + 250, sheet.room - 250
    words(p, LIGHT, f"{n + 1}", x - 18, y + 24, "quiet", font=fonts.book(20, italic=True), align="right")
    room = width - 110
    font = next(
        (
            b
            for px in (24, 21, 18, 16)
            if QFontMetricsF(b := fonts.book(px, bold=True)).horizontalAdvance(step.title) <= room
        ),
        fonts.book(14, bold=True),
    )
    words(p, LIGHT, step.title, x, y + 24, font=font)
    minutes = "" if step.minutes is None or step.minutes < 0.5 else f"about {max(1, round(step.minutes))} min"
    words(p, LIGHT, minutes, sheet.wide - EDGE, y + 24, "quiet", font=fonts.text(14), align="right")
    at = y + 52
    for k, line in enumerate(_lines(sheet, step)):
        at += sheet.text(line, x, at, width, BODY, "ink", bold=k == 0 and bool(step.figure)) + 6
    for key in step.checks:
        sheet.box(x, at)
        at += sheet.text(FINISH_TESTS[key], x + 30, at, width - 30) + 8
    p.setPen(QPen(LIGHT.color("rule"), 1))
    p.drawLine(QLineF(EDGE, y + tall + 4, sheet.wide - EDGE, y + tall + 4))


def _after(sheet: Sheet, y: float) -> None:
    """What follows, with its days, and lines for what was otherwise."""
    if y + 200 > sheet.foot:
        sheet.turn()
        y = 78
    y = sheet.rule("Afterwards", EDGE, y + 10, sheet.room, "days after potting; a sign may end them sooner")
    for row in sheet.plan.aftercare():
        days = f"day {row.start_day} to {row.end_day}" if row.end_day > row.start_day else f"day {row.start_day}"
        told = (
            f"{row.instruction} Ends: {row.end_early_when[0].lower()}{row.end_early_when[1:]}"
            if row.end_early_when
            else row.instruction
        )
        tall = sheet.tall(told, sheet.room - 170, 15)
        if y + tall > sheet.foot:
            sheet.turn()
            y = sheet.rule("Afterwards", EDGE, 78, sheet.room, "went on")
        words(sheet.p, LIGHT, days, EDGE, y, font=fonts.text(15, bold=True))
        y += sheet.text(told, EDGE + 170, y, sheet.room - 170, 15) + 7
    if y + 150 > sheet.foot:
        sheet.turn()
        y = 68
    y = sheet.rule("Done otherwise", EDGE, y + 20, sheet.room)
    sheet.p.setPen(QPen(LIGHT.color("edge"), 0.8))
    while y < min(sheet.foot, sheet.high - EDGE - 20):
        sheet.p.drawLine(QLineF(EDGE, y + 8, sheet.wide - EDGE, y + 8))
        y += 34
    sheet.footer()
