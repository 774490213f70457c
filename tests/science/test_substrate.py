"""Mixing against the published check values and against what cannot be otherwise."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.base.errors import FieldError
from kesh.reference.tables import Substrate, tables
from kesh.science.water.substrate import blend, capillary_rise_mm, effective_size_mm


def grain(key: str, low: float, high: float, phi: float, inside: float, rho: float, use: float) -> Substrate:
    """A component by the method's own numbers: `inside` is the share of the grain envelope."""
    return Substrate(
        key=key, size_low_mm=low, size_high_mm=high, inter_particle_porosity=phi, intra_particle_porosity=inside * (1 - phi),
        dry_bulk_density_g_per_l=rho * 1000, intra_water_available_fraction=use,
    )  # fmt: skip


AKADAMA, PUMICE = grain("akadama", 3, 6, 0.42, 0.55, 0.68, 0.55), grain("pumice", 3, 6, 0.46, 0.50, 0.60, 0.50)
LAVA, BARK = grain("lava", 3, 6, 0.48, 0.28, 0.85, 0.40), grain("bark", 3, 8, 0.50, 0.45, 0.22, 0.45)
PERLITE, PEAT = grain("perlite", 2, 6, 0.52, 0.45, 0.10, 0.70), grain("peat", 0.1, 5, 0.60, 0.75, 0.10, 0.50)
GRIT, SAND = grain("grit", 2, 5, 0.43, 0.01, 1.48, 0), grain("sand", 0.5, 2, 0.40, 0, 1.58, 0)


def test_published_mix_of_equal_grains() -> None:
    mix = blend([(AKADAMA, 2), (PUMICE, 1), (LAVA, 1)])
    assert mix.phi_e == pytest.approx(0.4450, abs=5e-5)
    assert mix.phi_int == pytest.approx(0.2634, abs=5e-5)
    assert mix.dry_density_kg_l == pytest.approx(0.702, abs=6e-4)
    assert mix.n == pytest.approx(4.33, abs=5e-3)
    assert mix.rise_mm == pytest.approx(15.9, abs=0.05)
    assert mix.wet_zone_mm == pytest.approx(11.66, abs=5e-3)
    assert mix.volume_loss == pytest.approx(0, abs=1e-9)


def test_published_mix_of_unlike_grains() -> None:
    mix = blend([(BARK, 1), (PERLITE, 1), (PEAT, 1)])
    assert mix.volume_loss == pytest.approx(0.198, abs=5e-4)
    assert mix.phi_e == pytest.approx(0.4266, abs=5e-5)
    assert mix.phi_int == pytest.approx(0.3079, abs=5e-5)
    assert mix.dry_density_kg_l == pytest.approx(0.175, abs=5e-4)
    assert mix.n == pytest.approx(2.10, abs=5e-3)
    assert mix.rise_mm == pytest.approx(77.4, abs=0.05)
    assert mix.ks_mm_s == pytest.approx(15.5, abs=0.05)
    assert mix.wet_zone_mm == pytest.approx(50.33, abs=5e-3)


def test_one_part_sand_in_grit_loses_about_a_tenth() -> None:
    losses = [blend([(GRIT, k), (SAND, 1)]).volume_loss for k in (2, 3, 4)]
    assert all(0.06 < loss < 0.13 for loss in losses)


@given(
    st.lists(
        st.tuples(st.sampled_from([AKADAMA, PUMICE, LAVA, BARK, PERLITE, PEAT, GRIT, SAND]), st.floats(0.1, 9)),
        min_size=1,
        max_size=5,
    )
)
def test_what_every_mix_obeys(parts: list[tuple[Substrate, float]]) -> None:
    mix = blend(parts)
    assert 0 < mix.phi_e < 0.9
    assert mix.phi_int_use <= mix.phi_int
    assert mix.phi_t < 1
    assert -1e-9 <= mix.volume_loss < 0.4
    assert 1.8 <= mix.n <= 6
    assert mix.wet_zone_mm > 0
    assert mix.saturation_effective(0.0) == 1


@given(st.floats(0.1, 50), st.sampled_from([3, 5, 8]))
def test_only_the_ratio_of_parts_counts(times: float, more: int) -> None:
    a = blend([(BARK, 1), (PERLITE, more)])
    b = blend([(BARK, times), (PERLITE, more * times)])
    assert b.phi_e == pytest.approx(a.phi_e)
    assert b.rise_mm == pytest.approx(a.rise_mm)


def test_order_of_parts_does_not_matter() -> None:
    a, b = blend([(BARK, 2), (PEAT, 1), (GRIT, 1)]), blend([(GRIT, 1), (BARK, 2), (PEAT, 1)])
    assert a.phi_e == pytest.approx(b.phi_e, rel=1e-9)
    assert a.volume_loss == pytest.approx(b.volume_loss, abs=1e-9)


def test_parts_of_nothing_are_dropped() -> None:
    assert blend([(AKADAMA, 1), (PEAT, 0)]).rise_mm == blend([(AKADAMA, 1)]).rise_mm


def test_coarser_grains_raise_water_less() -> None:
    rises = [capillary_rise_mm(d, 0.42) for d in (0.1, 0.4, 1, 3, 8)]
    assert rises == sorted(rises, reverse=True)
    assert capillary_rise_mm(6.108, 0.41) == pytest.approx(12.5, rel=1e-3)


def test_effective_size_of_a_class() -> None:
    assert effective_size_mm(3, 3) == 3
    assert effective_size_mm(2, 5) == pytest.approx(3.054, abs=5e-4)
    assert effective_size_mm(0.5, 1) == pytest.approx(0.6931, abs=5e-5)


@pytest.mark.parametrize(
    ("parts", "words"),
    [([], "no parts"), ([(AKADAMA, 0)], "no parts"), ([(AKADAMA, -1)], "negative"), ([(grain("x", 6, 3, 0.4, 0.2, 0.6, 0.5), 1)], "below size_low")],
)  # fmt: skip
def test_impossible_mixes_are_refused(parts: list, words: str) -> None:
    with pytest.raises(FieldError, match=words):
        blend(parts)


def test_every_shipped_substrate_can_be_mixed_alone_and_weighs_what_it_may() -> None:
    for row in tables().substrates.values():
        mix = blend([(row, 1)])
        solid = mix.dry_density_kg_l / (1 - mix.phi_t)
        assert 0.35 <= mix.phi_t <= 0.95, row.key
        assert solid < 3.0, row.key
