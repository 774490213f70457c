"""A group in one line, and a first tree with its usual spread."""

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.desk.first import FirstTree
from kesh.desk.group_words import group_of


@pytest.mark.parametrize(
    ("text", "count", "thick", "tall"),
    [
        ("15 of 3 to 8 mm, 20 to 40 cm", 15, (3, 8), (200, 400)),
        ("7 trees, 10-30 mm, 25-60 cm", 7, (10, 30), (250, 600)),
        ("9: 40 cm to 60 cm, 12 mm", 9, (12, 12), (400, 600)),
        ("5 x 1-2 cm, 300–500 mm", 5, (10, 20), (300, 500)),
        ("15 von 3 bis 8 mm, 20 bis 40 cm", 15, (3, 8), (200, 400)),
        ("3 of ½ to 1½ in, 20 in", 3, (12.7, 38.1), (508, 508)),
        ("3 trunks 1/2 in", 0, (), ()),
    ],
)
def test_a_line_becomes_so_many_trees(text: str, count: int, thick: tuple[float, ...], tall: tuple[float, ...]) -> None:
    if not count:
        with pytest.raises(FieldError, match="not both said"):
            group_of(text, Units())
        return
    found = group_of(text, Units())
    assert len(found) == count
    diameters = [g.diameter_mm or 0 for g in found]
    heights = [g.height_mm or 0 for g in found]
    assert (min(diameters), max(diameters)) == pytest.approx(thick, abs=0.06)
    assert (min(heights), max(heights)) == pytest.approx(tall, abs=1)
    assert diameters == sorted(diameters, reverse=True)
    assert heights == sorted(heights, reverse=True)
    assert len({(g.x_mm, g.y_mm) for g in found}) == count


@pytest.mark.parametrize(
    ("text", "said"),
    [("", "how many"), ("many trees", "how many"), ("1 of 3 mm, 20 cm", "two to 60"), ("400 of 3 mm, 20 cm", "two to 60"), ("5 of 30 to 40, 20 to 50", "cannot be"), ("5 of 0 mm, 20 cm", "cannot be"), ("5 of 3 mm, 20 to 40000 m", "cannot be"), ("9" * 100, "two to 60"), ("9" * 5000, "how many")],
)  # fmt: skip
def test_what_is_no_group_is_told(text: str, said: str) -> None:
    with pytest.raises(FieldError, match=said):
        group_of(text, Units())


@given(st.integers(2, 60), st.floats(2, 30), st.floats(120, 900))
def test_no_two_trees_stand_in_one_spot(count: int, thick: float, tall: float) -> None:
    found = group_of(f"{count} of {thick / 2:.1f} to {thick:.1f} mm, {tall / 20:.1f} to {tall / 10:.1f} cm", Units())
    spots = [(g.x_mm or 0.0, g.y_mm or 0.0) for g in found]
    nearest = min(((a - c) ** 2 + (b - d) ** 2) ** 0.5 for i, (a, b) in enumerate(spots) for c, d in spots[:i])
    assert nearest > 0.02 * tall


def test_spread_is_usual_for_the_style_until_it_is_said() -> None:
    first = FirstTree(name="A", height_mm=400, trunk_mm=40)
    usual = first.usual_spread_mm()
    assert usual is not None
    one = first.tree("a", date(2026, 3, 1)).measure
    assert one.spread_mm == pytest.approx(usual, abs=1)
    assert set(one.assumed) == {"canopy_left_mm", "canopy_right_mm"}
    assert one.with_figures(canopy_left_mm=200.0).assumed == ("canopy_right_mm",)
    said = FirstTree(name="A", height_mm=400, trunk_mm=40, spread_mm=520).tree("a", date(2026, 3, 1)).measure
    assert said.spread_mm == pytest.approx(520, abs=1)
    assert said.assumed == ()


def test_a_cascade_is_asked_its_drop_and_a_group_stands_by_its_line() -> None:
    hanging = FirstTree(name="A", style="cascade", height_mm=300, trunk_mm=40)
    assert hanging.missing == ("how far it hangs",)
    trees = group_of("5 of 10 to 20 mm, 20 to 40 cm", Units())
    group = FirstTree(name="Wood", style="forest", group=trees)
    assert group.missing == ()
    made = group.tree("wood", date(2026, 3, 1))
    assert (made.measure.height_mm, made.measure.trunk_diameter_mm) == (400, 20)
    assert len(made.group) == 5


def test_what_can_hardly_be_is_asked() -> None:
    assert "units" in FirstTree(name="A", height_mm=450, trunk_mm=6).doubt
    assert "units" in FirstTree(name="A", height_mm=40, trunk_mm=60).doubt
    assert FirstTree(name="A", height_mm=450, trunk_mm=40).doubt == ""
