"""The shipped facts: read strictly, complete, plausible; own rows laid over them."""

import pytest

from kesh.base.errors import BundleError, FieldError
from kesh.model.brief import Purpose
from kesh.model.tree import STYLES
from kesh.reference.notes import SIGNS, cautions, disagreements
from kesh.reference.rows import raw_table, read_row
from kesh.reference.schools import school, schools
from kesh.reference.tables import Species, care_classes, material, materials, tables, traditions
from kesh.science.season.season import WINDOWS


@pytest.mark.parametrize(
    ("name", "least"),
    [
        ("species", 120),
        ("substrates", 40),
        ("materials", 38),
        ("pot_tradition", 41),
        ("care_classes", 12),
        ("cautions", 15),
    ],
)
def test_tables_are_whole_and_keys_are_unique(name: str, least: int) -> None:
    keys = [row["key"] for row in raw_table(name)]
    assert len(keys) >= least
    assert len(keys) == len(set(keys))


def test_every_species_has_a_class_a_window_and_ordered_ranges() -> None:
    for s in tables().species.values():
        assert s.class_key in care_classes(), s.key
        assert s.repot_window in WINDOWS, s.key
        for low, high in ((s.ph_low, s.ph_high), (s.repot_years_refined_low, s.repot_years_refined_high)):
            assert low is None or high is None or low <= high, s.key
        assert s.confidence in ("high", "medium", "low")


def test_every_window_has_a_sign_to_wait_for() -> None:
    assert set(SIGNS) == set(WINDOWS)


def test_porosities_leave_room_for_what_a_litre_weighs() -> None:
    for s in tables().substrates.values():
        solid = 2900 if s.kind == "mineral" else 2000
        assert (
            s.inter_particle_porosity + s.intra_particle_porosity <= 1 - s.dry_bulk_density_g_per_l / solid + 0.006
        ), s.key
        assert s.size_low_mm <= s.size_high_mm


def test_every_style_has_a_classical_row() -> None:
    for style in STYLES:
        assert (style, "classical") in traditions()


def test_schools_carry_reasons_for_every_purpose() -> None:
    assert len(schools()) >= 3
    for s in schools().values():
        assert set(s.purposes) == {purpose.value for purpose in Purpose}
        assert all(rule.reason for rule in s.purposes.values())
        assert s.visual_mass[0] < s.visual_mass[1]
    with pytest.raises(FieldError, match="classical"):
        school("mine")


def test_a_material_is_found_by_key_or_by_its_beginning() -> None:
    assert material("porcelain").name == "Porcelain"
    assert material("stoneware").key.startswith("stoneware")
    with pytest.raises(FieldError, match="no material"):
        material("cheese")
    assert all(0.01 < m.density_g_cm3 < 9 for m in materials().values())


def test_own_rows_change_single_cells_and_add_new_ones() -> None:
    own = tables(({"key": "ginkgo", "kc": 0.9}, {"key": "new_one", "common_name": "New"}), ())
    assert own.species["ginkgo"].kc == 0.9
    assert own.species["ginkgo"].common_name == tables().species["ginkgo"].common_name
    assert own.species["new_one"].common_name == "New"
    assert own.own_species == {"ginkgo", "new_one"}
    assert tables().own_species == frozenset()


@pytest.mark.parametrize(
    "row",
    [
        {"key": "ginkgo", "kc": 99},
        {"key": "ginkgo", "bark_colour_hex": "brown"},
        {"kc": 1},
        {"key": "x", "group": "fish"},
    ],
)
def test_bad_own_rows_name_the_row_and_the_column(row: dict) -> None:
    with pytest.raises(BundleError, match="species"):
        tables((row,), ())


def test_a_strict_reader_names_table_key_and_column() -> None:
    with pytest.raises(BundleError, match="species moon: kc"):
        read_row(Species, {"key": "moon", "kc": "much"}, "species")


def test_cautions_say_when_to_stop_and_disagreements_carry_both_sides() -> None:
    for c in cautions().values():
        assert c.stop
        assert c.care
        assert c.severity in ("low", "medium", "high")
    for d in disagreements():
        assert d.one != d.other
        assert d.fits
        assert d.kesh
