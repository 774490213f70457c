"""Small parts of a drawing that every frame of a drag asks for: made once, and the same as made anew."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QColor, QFontMetricsF, QImage, QPainter
from PyQt6.QtWidgets import QLabel

from kesh.base.units import Units
from kesh.model import Stock
from kesh.science.stand.wire_path import Piece, WireWay, wire_way
from kesh.ui.paint.cuts_painter import draw_way
from kesh.ui.paint.layers import Layers
from kesh.ui.paint.marks import words
from kesh.ui.paint.rose_painter import draw_rose
from kesh.ui.rooms.planting.work_panel import WorkPanel
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import DARK, LIGHT, STATUS_ROLE, Theme, mixed
from kesh.ui.window import MainWindow
from tests.advice.test_planting_plan import plan

KINDS = st.sampled_from(("end", "over", "leg", "under", "floor", "span", "loop"))


def sheet(wide: int = 700, high: int = 120) -> QImage:
    image = QImage(wide, high, QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(QColor("#FFFFFF"))
    return image


def painted(image: QImage) -> set[tuple[int, int]]:
    return {
        (x, y)
        for x in range(image.width())
        for y in range(image.height())
        if image.pixelColor(x, y) != QColor("#FFFFFF")
    }


# --- fonts and colours


@pytest.mark.usefixtures("qapp")
@given(
    st.text(st.characters(codec="ascii", categories=("L", "N", "P", "Zs")), max_size=30), st.sampled_from((11, 13, 24))
)
def test_a_width_that_is_kept_is_the_width(text: str, px: int) -> None:
    for font in (fonts.text(px), fonts.text(px, bold=True), fonts.book(px, italic=True), fonts.section()):
        for _ in range(2):
            assert fonts.width(font, text) == QFontMetricsF(font).horizontalAdvance(text)


@pytest.mark.usefixtures("qapp")
def test_text_size_and_paper_each_have_fonts_of_their_own() -> None:
    plain = fonts.text(20).pixelSize()
    fonts.set_scale(150)
    try:
        assert fonts.text(20).pixelSize() == round(1.5 * plain)
        with fonts.on_paper():
            assert fonts.text(20).pixelSize() == plain
        assert fonts.text(20).pixelSize() == round(1.5 * plain)
    finally:
        fonts.set_scale(100)
    assert fonts.text(20).pixelSize() == plain
    # small capitals are not the book face of the same size
    assert fonts.section() != fonts.book(16)
    assert fonts.width(fonts.section(), "Cut list") != fonts.width(fonts.book(16), "Cut list")


channel = st.integers(0, 255)


@given(channel, channel, channel, channel, channel, channel, st.floats(0, 1))
def test_a_mixed_colour_lies_between_and_twice_is_once(
    r: int, g: int, b: int, s: int, h: int, c: int, share: float
) -> None:
    one, two = QColor(r, g, b), QColor(s, h, c)
    found = mixed(one, two, share)
    for got, low, high in zip(found.getRgb()[:3], one.getRgb()[:3], two.getRgb()[:3], strict=True):  # type: ignore[arg-type]
        assert got == pytest.approx(low + (high - low) * share, abs=1.01)
    assert mixed(one, two, share) == found
    assert mixed(one, two, 0.0).rgb() == one.rgb()
    assert mixed(one, two, 1.0).rgb() == two.rgb()


@pytest.mark.parametrize("theme", [LIGHT, DARK])
def test_a_role_is_its_value_with_its_own_alpha(theme: Theme) -> None:
    for role in STATUS_ROLE.values():
        assert theme.color(role).name() == QColor(getattr(theme, role)).name()
        assert theme.color(role, 0.25).alphaF() == pytest.approx(0.25, abs=0.01)
        # the copy with an alpha leaves the plain one alone
        assert theme.color(role).alpha() == 255
    assert theme.is_dark is (theme is DARK)


# --- one wire stretched out


@pytest.mark.usefixtures("qapp")
@given(st.lists(st.tuples(KINDS, st.floats(1, 200)), min_size=1, max_size=9), st.floats(0.05, 0.5))
def test_a_wire_ends_where_its_pieces_add_up_to(rows: list[tuple[str, float]], px_mm: float) -> None:
    way = WireWay(tuple(Piece(kind, mm) for kind, mm in rows), sum(mm for _, mm in rows))
    image = sheet(1000)
    p = QPainter(image)
    end = draw_way(p, LIGHT, way, 20.0, 60.0, px_mm, Units())
    p.end()
    assert end == pytest.approx(20 + px_mm * sum(mm for _, mm in rows))


@pytest.mark.usefixtures("qapp")
def test_a_wire_is_drawn_from_end_to_end_and_no_farther() -> None:
    way = wire_way(((-90.0, 0.0), (90.0, 0.0)), ((-100.0, 0.0, 70.0), (100.0, 0.0, 70.0)), 8.0)
    image = sheet()
    p = QPainter(image)
    end = draw_way(p, LIGHT, way, 40.0, 60.0, 0.6, Units(), figures=False)
    p.end()
    xs = [x for x, _ in painted(image)]
    assert min(xs) == pytest.approx(40, abs=2)
    assert max(xs) == pytest.approx(end, abs=2)
    assert end - 40 == pytest.approx(0.6 * way.cut_mm)
    # a bend mark stands at every joint: the first of them where the twisted end is over
    joint = round(40 + 0.6 * way.pieces[0].mm)
    assert any((x, y) in painted(image) for x in (joint - 1, joint, joint + 1) for y in (56, 64))


# --- layers


def test_what_is_laid_over_again_is_what_was_painted(window: MainWindow) -> None:
    made: list[int] = []
    layers = Layers(window)

    def paint(q: QPainter) -> None:
        made.append(1)
        q.fillRect(QRectF(30, 20, 50, 40), QColor("#43572A"))

    def frame(key: object) -> QImage:
        image = sheet(200, 100)
        p = QPainter(image)
        layers(p, "part", key, paint, QRectF(20, 10, 80, 60))
        p.end()
        return image

    first, second, third = frame(1), frame(1), frame(1)
    assert painted(first) == painted(second) == painted(third)
    # straight, then once into its picture, then no more
    assert len(made) == 2
    frame(2)
    assert len(made) == 3


# --- what is short, on the screen


@pytest.mark.parametrize(("share", "role"), [(0.5, "oxide"), (0.98, "ochre"), (2.0, None)])
def test_the_list_wears_the_colour_of_its_finding(window: MainWindow, share: float, role: str | None) -> None:
    batch = plan().batch
    assert batch is not None
    line = batch.lines[0]
    made = plan(more={"stock": {line.key: Stock(id=line.key, have=share * line.litres)}})
    ready = next(r for r in made.ready if r.key == line.key)
    row = WorkPanel(window.session)._row(ready)
    sheets = [label.styleSheet() for label in row.findChildren(QLabel)]
    told = [s for s in sheets if s]
    assert (told == []) if role is None else (window.session.theme.color(role).name() in told[0])


@pytest.mark.usefixtures("qapp")
def test_the_rose_is_green_where_the_finding_fits_and_says_its_weakest_side() -> None:
    for mass, good in ((80.0, True), (0.3, False)):
        made = plan(anchors="none", tree_fields={"m": {"mass_kg": mass}})
        assert made.ties is not None
        image = sheet(200, 200)
        p = QPainter(image)
        draw_rose(p, LIGHT, made.ties, QPointF(100, 90), 60.0)
        p.end()
        seen = {image.pixelColor(x, y).name() for x in range(200) for y in range(155, 200)}
        assert (LIGHT.color("oxide").name() in seen) is not good


@pytest.mark.usefixtures("qapp")
def test_words_return_how_far_they_run() -> None:
    image = sheet()
    p = QPainter(image)
    for align in ("left", "center", "right"):
        assert words(p, LIGHT, "over rim 12", 300, 60, align=align) == fonts.width(fonts.text(12), "over rim 12")
    p.end()
