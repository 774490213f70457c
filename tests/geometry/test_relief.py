"""Belts and lips: closed forms, a solid that has them, an inside that does not, and words, tables and files that carry them."""

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from kesh.advice.routes.potter import potter_job
from kesh.advice.routes.printer import for_print, printer_job
from kesh.base.errors import FieldError
from kesh.demo.lanternfield import demo_collection
from kesh.figure.pot_drawing import pot_drawing, wall_curves
from kesh.figure.pot_figure import pot_figure
from kesh.formats.bundle import bundle_of, read_bundle
from kesh.formats.lists.pots import read_pots, write_pots
from kesh.geometry.columns import columns
from kesh.geometry.feet import with_feet
from kesh.geometry.relief import band_words, over_bands_mm, relief_mm, span_mm
from kesh.geometry.solid import check_shape, solid
from kesh.geometry.volume import body
from kesh.model import Band, Outline, Pot, Profile
from tests.kept import examples

ROUND = Pot(
    id="r", name="r", outline=Outline(kind="round"), length_mm=200, width_mm=200, height_mm=100, wall_mm=8, floor_mm=9
)
BELT = Band(form="round", at_share=0.5, tall_mm=10, proud_mm=4)
bands = st.builds(
    Band, form=st.sampled_from(["round", "flat"]), at_share=st.floats(0, 1), tall_mm=st.floats(2, 20), proud_mm=st.floats(0.5, 8)
)  # fmt: skip


def test_a_half_round_belt_on_a_cylinder_takes_the_clay_of_a_torus_half() -> None:
    """Pappus: half ellipse of 5 x 4 mm turned about the axis, its centre of gravity 4 b / (3 pi) out from the wall."""
    plain, belted = (body(columns([p])) for p in (ROUND, ROUND.changed(bands=(BELT,))))
    area, out = np.pi / 2 * 5 * 4, 4 * 4 / (3 * np.pi)
    gained = float(belted.body_volume_cm3[0] - plain.body_volume_cm3[0])
    assert gained == pytest.approx(area * 2 * np.pi * (100 + out) / 1e3, rel=1e-3)
    assert float(belted.inner_volume_l[0]) == float(plain.inner_volume_l[0])
    assert float(belted.elevation_area_mm2[0] - plain.elevation_area_mm2[0]) == pytest.approx(2 * area)


def test_a_flat_band_is_a_step_with_chamfers() -> None:
    pot = ROUND.changed(bands=(Band(form="flat", at_share=0.5, tall_mm=12, proud_mm=2),))
    z = np.array([43.9, 44.0, 45.0, 46.0, 50.0, 54.0, 55.0, 56.0, 56.1])
    assert relief_mm(pot, z) == pytest.approx([0, 0, 1, 2, 2, 2, 1, 0, 0])


@given(bands)
@settings(max_examples=examples(60))
def test_a_band_stays_on_the_wall_and_stands_out_by_what_it_says(band: Band) -> None:
    pot = ROUND.changed(bands=(band,))
    low, high = span_mm(pot, band)
    assert -1e-9 <= low < high <= 100 + 1e-9
    assert high - low == pytest.approx(band.tall_mm)
    out = relief_mm(pot, np.linspace(0, 100, 2001))
    assert out.min() == 0
    assert out.max() == pytest.approx(band.proud_mm, rel=0.02)
    assert over_bands_mm(pot) == pytest.approx(band.proud_mm, rel=1e-6)


@given(bands, st.sampled_from(["rectangle", "oval", "polygon", "lobed"]), st.sampled_from(["straight", "bowed", "lip"]))
@settings(max_examples=10, deadline=None)
def test_a_banded_pot_closes_with_the_clay_of_the_integral(band: Band, outline: str, profile: str) -> None:
    pot = with_feet(
        Pot(
            id="b",
            name="b",
            outline=Outline(kind=outline, corner_mm=20 if outline == "rectangle" else 0),
            bands=(band,),
            profile=Profile(kind=profile, base_inset_mm=10, belly_mm=5 if profile == "bowed" else 0, lip_offset_mm=4),
            length_mm=320,
            width_mm=240,
            height_mm=90,
            wall_mm=8,
            floor_mm=9,
            feet_mm=8,
        )
    )
    made = solid(pot)
    assert made.is_watertight
    assert made.body_count == 1
    assert made.volume / 1e3 == pytest.approx(float(body(columns([pot])).body_volume_cm3[0]), rel=0.005)


def test_an_outline_that_no_ray_reaches_has_its_belt_too() -> None:
    """A crescent is built of prisms, not of rings of rays."""
    turn = np.linspace(0.25 * np.pi, 1.75 * np.pi, 40)
    outer, inner = (
        150 * np.column_stack([np.cos(turn), np.sin(turn)]),
        70 * np.column_stack([np.cos(turn), np.sin(turn)]),
    )
    points = tuple((round(float(x), 2), round(float(y), 2)) for x, y in [*outer, *inner[::-1]])
    low, high = np.min(points, axis=0), np.max(points, axis=0)
    length, width = (high - low).tolist()
    points = tuple((x - (low[0] + high[0]) / 2, y - (low[1] + high[1]) / 2) for x, y in points)
    pot = Pot(id="c", name="c", outline=Outline(kind="free", points_mm=points), length_mm=length, width_mm=width, height_mm=60,
              wall_mm=6, floor_mm=8, bands=(BELT,))  # fmt: skip
    made, plain = solid(pot), solid(pot.changed(bands=()))
    assert made.is_watertight
    assert made.extents[1] == pytest.approx(plain.extents[1] + 8, abs=0.6)
    assert made.volume / 1e3 == pytest.approx(float(body(columns([pot])).body_volume_cm3[0]), rel=0.01)


def test_bands_that_meet_or_are_too_tall_are_refused() -> None:
    low, high = BELT.changed(at_share=0.50), BELT.changed(at_share=0.55)
    with pytest.raises(FieldError, match="run into each other"):
        check_shape(ROUND.changed(bands=(low, high)))
    check_shape(ROUND.changed(bands=(low, BELT.changed(at_share=0.61))))
    with pytest.raises(FieldError, match="taller than the body"):
        ROUND.changed(bands=(BELT.changed(tall_mm=120),))
    with pytest.raises(ValidationError):
        Band(proud_mm=0)


def test_figure_and_drawing_show_the_belt_outside_and_not_inside() -> None:
    pot = ROUND.changed(bands=(BELT,))
    figure = pot_figure(pot)
    assert figure.bounds[1] == pytest.approx(104)
    assert np.abs(figure.inside[:, 0]).max() == pytest.approx(92)
    outer, inner = wall_curves(pot, 100.0)
    assert outer[:, 0].max() == pytest.approx(104)
    assert np.ptp(inner[1:, 0]) == pytest.approx(0)
    said = [getattr(item, "text", "") for item in pot_drawing(pot, "t").items]
    assert "208 over bands" in said
    assert not [t for t in (getattr(i, "text", "") for i in pot_drawing(ROUND, "t").items) if "over bands" in t]


def test_the_makers_are_told_of_every_band() -> None:
    pot = ROUND.changed(bands=(BELT, Band(form="flat", at_share=1.0, tall_mm=8, proud_mm=4)))
    belt, lip = band_words(pot)
    assert belt == ("Belt", "half round, 10 mm tall, stands out 4 mm, 45.0 to 55.0 mm above the bench")
    assert lip[0] == "Lip"
    facts = dict(potter_job(pot).facts)
    assert facts["Fired, over all"] == "208 × 208 × 100 mm"
    assert facts["Belt"] == belt[1]
    warned = [c.text for c in printer_job(for_print(pot)).checks if "overhangs" in c.text]
    assert len(warned) == 2
    mild = pot.changed(bands=(BELT.changed(proud_mm=2), Band(form="flat", at_share=1, tall_mm=8, proud_mm=2)))
    assert not [c for c in printer_job(for_print(mild)).checks if "overhangs" in c.text]


def test_a_long_flat_wall_with_a_belt_is_not_said_to_warp() -> None:
    tray = demo_collection().pots["ferry-tray"].changed(wall_mm=6.0)
    assert any("may warp" in c.text for c in potter_job(tray).checks)
    assert not any("may warp" in c.text for c in potter_job(tray.changed(bands=(BELT,))).checks)


def test_bands_travel_as_table_and_as_bundle(tmp_path: Path) -> None:
    pot = ROUND.changed(bands=(BELT, Band(form="flat", at_share=1.0, tall_mm=8, proud_mm=2)))
    write_pots(tmp_path / "p.csv", [pot, ROUND.changed(id="plain")])
    found = read_pots(tmp_path / "p.csv")
    assert found.problems == ()
    assert [p.bands for p in found.pots] == [pot.bands, ()]
    text = (tmp_path / "p.csv").read_text().replace("round 0.5 10 4", "round 0.5 10")
    (tmp_path / "bad.csv").write_text(text)
    assert "needs its form, height share, tall and proud" in read_pots(tmp_path / "bad.csv").problems[0]
    demo = demo_collection()
    data = bundle_of(replace(demo, pots={**demo.pots, "r": pot}))
    assert read_bundle(data).pots["r"].bands == pot.bands
