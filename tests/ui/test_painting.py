"""What the painters leave on the paper: true scale, the right colour, nothing outside its shape."""

import numpy as np
import pytest
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPainterPath

from kesh.advice.assess import assess
from kesh.advice.case import case_for
from kesh.demo.lanternfield import demo_collection
from kesh.figure.pot_figure import pot_figure
from kesh.figure.silhouette import silhouette
from kesh.figure.tree_figure import figure_of
from kesh.model import Collection
from kesh.reference.tables import tables
from kesh.ui.paint.marks import band_bar, dimension, ruler, status_mark
from kesh.ui.paint.plan_painter import draw_plan
from kesh.ui.paint.pot_painter import draw_pot, hatch
from kesh.ui.paint.section_painter import draw_section
from kesh.ui.paint.tree_painter import paint_for, silhouette_path, tree_image
from kesh.ui.paper.printing import SCALES, UNIT_MM, scale_for
from kesh.ui.theme.tokens import DARK, LIGHT, STATUS_ROLE, THEMES, Theme

pytestmark = pytest.mark.usefixtures("qapp")
DEMO = demo_collection()
PX_MM = 0.8


def canvas(width: int = 800, height: int = 700) -> tuple[QImage, QPainter]:
    """A clear sheet and a painter on it."""
    image = QImage(width, height, QImage.Format.Format_ARGB32)
    image.fill(Qt.GlobalColor.transparent)
    return image, QPainter(image)


def pixels(image: QImage) -> NDArray[np.uint8]:
    """(height, width, 4) as blue, green, red, alpha."""
    image = image.convertToFormat(QImage.Format.Format_ARGB32)
    data = image.constBits()
    assert data is not None
    data.setsize(image.sizeInBytes())
    return np.frombuffer(bytes(data), dtype=np.uint8).reshape(image.height(), image.width(), 4)


def inked(image: QImage, alpha: int = 120) -> tuple[int, int, int, int]:
    """Left, right, top, bottom of what is painted."""
    rows, cols = np.nonzero(pixels(image)[:, :, 3] > alpha)
    return int(cols.min()), int(cols.max()), int(rows.min()), int(rows.max())


def has(image: QImage, color: QColor, within: int = 12) -> bool:
    """Whether a pixel of about this colour was painted."""
    data = pixels(image).astype(int)
    want = np.array([color.blue(), color.green(), color.red()])
    close = np.abs(data[:, :, :3] - want).max(axis=2) <= within
    return bool(np.any(close & (data[:, :, 3] > 200)))


@pytest.mark.parametrize("pot", DEMO.pots.values(), ids=DEMO.pots.keys())
def test_every_pot_is_painted_to_scale(pot) -> None:  # type: ignore[no-untyped-def]
    image, painter = canvas()
    painter.translate(400, 600)
    painter.scale(PX_MM, PX_MM)
    draw_pot(painter, pot, LIGHT, PX_MM, shadow=False)
    painter.end()
    left, right, top, bottom = inked(image)
    west, east, _, _ = pot_figure(pot).bounds  # a belly reaches past the rim
    assert east - west >= pot.length_mm - 0.5
    assert left - 400 == pytest.approx(west * PX_MM, abs=2.5)
    assert right - 400 == pytest.approx(east * PX_MM, abs=2.5)
    assert bottom - top + 1 == pytest.approx(pot.height_mm * PX_MM, abs=4)
    assert bottom == pytest.approx(600, abs=2)


@pytest.mark.parametrize("key", DEMO.trees)
def test_every_tree_is_painted_as_high_and_wide_as_it_measures(key: str) -> None:
    tree = DEMO.trees[key]
    figure = figure_of(tree, tables().species.get(tree.species))
    assert figure is not None
    image, corner = tree_image(figure, paint_for(LIGHT, "#7A6A58", "#4C6B3A"), PX_MM)
    left, right, top, _bottom = inked(image, 60)
    m, slack = tree.measure, 0.05 * figure.sitter.height * PX_MM + 4
    assert -(top + corner.y()) == pytest.approx(m.height_mm * PX_MM, abs=slack)
    assert left + corner.x() == pytest.approx(-m.canopy_left_mm * PX_MM, abs=slack + 0.05 * m.canopy_left_mm)
    assert right + corner.x() == pytest.approx(m.canopy_right_mm * PX_MM, abs=slack + 0.05 * m.canopy_right_mm)


def test_the_outline_of_a_tree_encloses_its_trunk() -> None:
    tree = DEMO.trees["old-ferryman"]
    figure = figure_of(tree, tables().species.get(tree.species))
    assert figure is not None
    path = silhouette_path(silhouette(figure.sitter))
    trunk = next(w.line for w in figure.wood if w.kind == "trunk")
    centres = [mass.ring.mean(axis=0) for mass in figure.masses]
    for x, y in [p[:2].tolist() for p in (*trunk[2:-2], *centres)]:
        assert path.contains(QPointF(x, -y)), (x, y)
    assert not path.contains(QPointF(3000, -100))


@pytest.mark.parametrize("theme", THEMES.values(), ids=THEMES)
def test_states_differ_in_form_and_colour(theme: Theme) -> None:
    seen = {}
    for status in STATUS_ROLE:
        image, painter = canvas(24, 24)
        status_mark(painter, theme, status, 12, 12, 14)
        painter.end()
        assert has(image, theme.color(STATUS_ROLE[status]), 40), status
        seen[status] = pixels(image)[:, :, 3] > 128
    names = list(seen)
    for i, one in enumerate(names):
        for other in names[i + 1 :]:
            apart = np.count_nonzero(seen[one] ^ seen[other])
            assert apart > 8, f"{one} and {other} cannot be told apart without colour"


@pytest.mark.parametrize(("value", "role"), [(75.0, "ink"), (120.0, "oxide"), (20.0, "oxide")])
def test_a_figure_outside_its_band_turns_red(value: float, role: str) -> None:
    image, painter = canvas(220, 30)
    band_bar(painter, LIGHT, QRectF(5, 5, 200, 20), 60, 90, value, (0, 150))
    painter.end()
    assert has(image, LIGHT.color(role))
    assert has(image, LIGHT.color("oxide")) == (role == "oxide")


def test_a_ruler_has_a_tick_every_centimetre_when_there_is_room() -> None:
    counts = {}
    for px_mm in (1.0, 0.1):
        image, painter = canvas(80, 600)
        ruler(painter, LIGHT, 40, 550.5, px_mm, 500)
        painter.end()
        column = pixels(image)[:, 42, 3] > 40
        counts[px_mm] = int(np.count_nonzero(np.diff(column.astype(int)) == 1))
    assert counts[1.0] == 51
    assert counts[0.1] == 11


def test_a_dimension_leaves_a_gap_for_its_figure_or_sets_it_beside() -> None:
    def middle_is_clear(length: int) -> bool:
        image, painter = canvas(400, 60)
        dimension(painter, LIGHT, QPointF(20, 30.5), QPointF(20 + length, 30.5), "")
        painter.end()
        return bool(pixels(image)[30, 20 + length // 2, 3] < 40)

    assert middle_is_clear(300)
    assert not middle_is_clear(10)


def test_hatching_stays_inside_its_shape() -> None:
    image, painter = canvas(200, 200)
    path = QPainterPath()
    path.addEllipse(QRectF(40, 60, 120, 80))
    hatch(painter, path, QColor("black"), 1.0)
    painter.end()
    rows, cols = np.nonzero(pixels(image)[:, :, 3] > 40)
    inside = ((cols - 99.5) / 61.5) ** 2 + ((rows - 99.5) / 41.5) ** 2 <= 1
    assert len(rows) > 500
    assert np.all(inside)


@pytest.mark.parametrize("theme", [LIGHT, DARK], ids=["light", "dark"])
@pytest.mark.parametrize(("tree", "pot"), [("old-ferryman", "riverstone-oval"), ("rope-ladder", "rope-tower")])
def test_section_and_plan_show_what_comes_off_in_the_pot(theme: Theme, tree: str, pot: str, demo: Collection) -> None:
    a = assess(case_for(demo, tree, pot_id=pot), demo.pots[pot])
    for draw in (draw_section, draw_plan):
        image, painter = canvas()
        painter.translate(400, 450)
        painter.scale(PX_MM, PX_MM)
        draw(painter, a, theme, PX_MM)
        painter.end()
        left, right, _, _ = inked(image)
        assert right - left + 1 >= 0.97 * demo.pots[pot].length_mm * PX_MM
        cut = a.figures.roots is not None and float(a.figures.roots.removed_feeder_share[0]) > 0.01
        assert has(image, theme.color("oxide"), 60) == cut


@pytest.mark.parametrize(("wide", "high"), [(100, 100), (600, 900), (1, 1), (4000, 90), (333.3, 1200)])
def test_paper_scales_are_round_fit_the_box_and_are_the_largest(wide: float, high: float) -> None:
    n = scale_for(wide, high, 400, 424)
    assert wide / n <= 400 * UNIT_MM + 1e-9
    assert high / n <= 424 * UNIT_MM + 1e-9
    if n in SCALES and n != min(SCALES):
        larger = max(s for s in SCALES if s < n)
        assert wide / larger > 400 * UNIT_MM or high / larger > 424 * UNIT_MM
