"""Lists in anybody's words: figures, holes, money, looks, heads; nothing wrong without a doubt, nothing dropped in silence."""

from datetime import date
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.base.errors import BundleError
from kesh.formats.lists.any import read_list
from kesh.formats.lists.spoken.cells import holes_of, look_of, price_of
from kesh.formats.lists.spoken.figures import sizes_of
from kesh.formats.lists.spoken.pots import SpokenPots, is_pots, spoken_pots
from kesh.formats.lists.spoken.records import imported
from kesh.formats.lists.spoken.table import column, table_of_text
from kesh.reference.tables import tables
from tests.formats.spoken.habits import MM, a_list

TOLD = ("length_mm", "width_mm", "height_mm", "outline", "finish", "colour_is", "drain", "ties", "price", "currency")


@pytest.mark.parametrize(
    ("text", "unit", "wanted"),
    [
        ("30x22x8 cm", "mm", (300, 220, 80)), ("41 × 29,5 × 11", "cm", (410, 295, 110)), ("Ø 24 x 9", "cm", (240, 240, 90)), ("18/18/22 cm", "mm", (180, 180, 220)),
        ("12 1/4 x 9 x 2 3/4", "in", (311.15, 228.6, 69.85)), ("12½ x 9¼ x 3", "in", (317.5, 234.95, 76.2)), ('12"x9"x3"', "mm", (304.8, 228.6, 76.2)),
        ('5.5" dia x 2"', "cm", (139.7, 139.7, 50.8)), ("10in diameter 4in tall", "cm", (254, 254, 101.6)), ("L 30 B 22 H 8", "cm", (300, 220, 80)),
        ("30L x 20W x 8H", "cm", (300, 200, 80)), ("H 8 L 30 W 22", "cm", (300, 220, 80)), ("24 cm Durchmesser, 9 cm hoch", "mm", (240, 240, 90)),
        ("30 cm x 22 cm x 80 mm", "in", (300, 220, 80)), ("about 30 x 20 x 8", "cm", (300, 200, 80)), ("28–30 x 20 x 6", "cm", (290, 200, 60)), ("30-22-8", "cm", (300, 220, 80)),
        ("1 ft x 8 in x 3 in", "cm", (304.8, 203.2, 76.2)), ("Ø24 H9", "cm", (240, 240, 90)), ("30 x 2O x 8", "cm", (300, 200, 80)), ("Ø 22 cm alto 8 cm", "mm", (220, 220, 80)),
    ],
)  # fmt: skip
def test_sizes_as_people_write_them(text: str, unit: str, wanted: tuple[float, ...]) -> None:
    found = sizes_of(text, unit)
    assert [found.mm[k] for k in TOLD[:3]] == pytest.approx(wanted, abs=0.06)


@pytest.mark.parametrize(
    ("text", "drain", "ties"),
    [
        ("2 x 20, 4 Draht", 2, 4), ("3", 3, None), ("2+4", 2, 4), ("2 drain 4 tie", 2, 4), ("two", 2, None), ("1 big", 1, None), ("none", 0, None), ("2 drain 20, 4 tie", 2, 4),
        ("zwei große, vier kleine", 2, 4), ("2 Ø 20, 4 Ø 5", 2, 4), ("1 x 30 mm + 2 x 6 mm", 1, 2), ("?", None, None), ("many", None, None), ("900", None, None), ("1 de 30 mm", 1, None), ("2 holes 25mm", 2, None), ("1 (30 mm)", 1, None),
    ],
)  # fmt: skip
def test_holes_by_their_count(text: str, drain: int | None, ties: int | None) -> None:
    found = holes_of(text)
    assert (found.drain, found.ties) == (drain, ties)
    assert bool(found.doubts) is (text in ("many", "900"))


@pytest.mark.parametrize(
    ("text", "amount", "code"),
    [
        ("45,- €", 45, "EUR"), ("$85", 85, "USD"), ("1,250 yen", 1250, "JPY"), ("1.250,50 €", 1250.5, "EUR"), ("1'250 CHF", 1250, "CHF"), ("12.50", 12.5, None), ("gift", None, None),
        ("Fr. 250", 250, "CHF"), ("40 GBP", 40, "GBP"),
    ],
)  # fmt: skip
def test_money_in_any_sign(text: str, amount: float | None, code: str | None) -> None:
    assert price_of(text) == (amount, code, "")


def test_looks_in_free_words_and_the_same_with_a_slip_and_a_doubt() -> None:
    look = look_of("rettangolare non smaltato marrone scuro")
    assert (look.outline, look.finish, look.colour_is, look.doubts) == ("rectangle", "unglazed", "dark brown", [])
    assert look_of("dunkelgrün").colour_is == "dark green"
    slip = look_of("rechtekig glasirt", slips=("rechtekig glasirt",))
    assert (slip.outline, slip.finish, len(slip.doubts)) == ("rectangle", "glazed", 2)
    assert look_of("non smalttao", slips=("non smalttao",)).finish == "unglazed"


@pytest.mark.parametrize(
    ("head", "means", "unit"),
    [("Größe (cm)", "size", "cm"), ("size (in)", "size", "in"), ("Länge in mm", "length_mm", "mm"), ("Farbe / Glasur", "look", ""), ("H", "height_mm", ""), ("Preis €", "price", ""), ("Hoehe", "height_mm", ""), ("Bezeichnug", "name", ""), ("outer length", "length_mm", ""), ("foot height (mm)", "", "mm"), ("inner length", "", ""), ("Art", "look", ""), ("points", "", ""), ("Haut.", "height_mm", "")],
)  # fmt: skip
def test_heads_in_any_words(head: str, means: str, unit: str) -> None:
    found = column(head)
    assert (found.means, found.unit) == (means, unit)


def wrong(found: SpokenPots, seed: int, slips: bool) -> tuple[int, int, int]:
    """(figures, wrong ones, wrong ones that no doubt tells of)."""
    rows = {row.name: row for row in found.rows}
    figures = bad = silent = 0
    for truth in a_list(seed, slips).rows:
        row = rows.get(truth.name)
        for name in TOLD:
            want = getattr(truth, "colour" if name == "colour_is" else name)
            got = None if row is None else getattr(row, name)
            good = (
                got is not None and abs(got - want) <= 1
                if name.endswith("_mm")
                else (got or 0) == want
                if name == "ties"
                else got == want
            )
            figures += 1
            bad += not good
            silent += not good and got is not None and row is not None and not row.doubts
    return figures, bad, silent


@given(st.integers(0, 10**6))
def test_a_list_of_any_habit_is_read_without_a_fault(seed: int) -> None:
    habit = a_list(seed)
    table = table_of_text(habit.text, "list.csv")
    assert is_pots(table)
    found = spoken_pots(table, habit.unit)
    assert wrong(found, seed, slips=False)[1:] == (0, 0)
    assert len(found.rows) + len(found.refused) >= len(habit.rows)


def test_with_slips_of_the_pen_few_are_wrong_and_none_in_silence() -> None:
    counts = [
        wrong(spoken_pots(table_of_text(a_list(seed, True).text, "l"), a_list(seed, True).unit), seed, slips=True)
        for seed in range(120)
    ]
    figures, bad, silent = (sum(c[i] for c in counts) for i in range(3))
    assert bad <= 0.02 * figures
    assert silent == 0


@given(st.integers(0, 10**6))
def test_where_no_unit_is_told_it_is_asked_and_usually_guessed(seed: int) -> None:
    habit = a_list(seed)
    found = spoken_pots(table_of_text(habit.text, "list.csv"))
    assert found.unit in MM
    if habit.unit == "mm":
        assert wrong(found, seed, slips=False)[2] == 0
    bare = all(not any(c.isalpha() for c in str(row.length_mm)) for row in found.rows)
    assert bare
    if found.unit != habit.unit and habit.unit != "in" and wrong(found, seed, slips=False)[1]:
        assert found.questions


@given(st.text(alphabet=st.characters(codec="utf-8"), max_size=300))
def test_nothing_in_a_file_breaks_the_reader(text: str) -> None:
    if not text.strip():
        return
    try:
        table = table_of_text(text, "list.csv")
    except BundleError:
        return
    found = spoken_pots(table, "cm")
    assert len(found.rows) + len(found.refused) == len(table.rows) + len(table.lost)


def test_titles_lines_and_sums_are_no_pots_and_are_told() -> None:
    text = "My pots,,\n,,\nPot,size (cm),price\nOne,30x20x6,30\n-----,,\nOne,9,\nTotal,,30\n"
    found = spoken_pots(table_of_text(text, "l"))
    assert [row.name for row in found.rows] == ["One", "One (2)"]
    assert found.rows[1].doubts
    assert found.rows[1].length_mm is None
    assert [line for line, _ in found.refused] == [5, 7]


def test_a_list_without_heads_and_names_with_sizes_behind_them() -> None:
    found = spoken_pots(table_of_text("Blue oval 12 x 9 x 3 in\tglazed\nTiny round dia 4 x 2 in\tgreen\n", "l"))
    assert [(r.name, r.outline, r.colour_is) for r in found.rows] == [
        ("Blue oval", "oval", "blue"),
        ("Tiny round", "round", "green"),
    ]
    assert found.rows[1].width_mm == pytest.approx(101.6)


def test_rows_become_pots_with_what_is_unknown_left_unknown(tmp_path: Path) -> None:
    path = tmp_path / "pots.csv"
    path.write_text(
        "Name;Größe;Farbe / Glasur;Löcher\nEins;30x22x8 cm;blau glasiert;2 x 18, 4 Draht\nZwei;24x24x9 cm;;\nDrei;;grau;\n",
        encoding="utf-8",
    )
    found = read_list(path, {}, {}, tables().species, date(2026, 3, 1))
    one, two = found.pots
    assert (one.finish, one.colour, one.outline.kind) == ("muted_glaze", "#2F5C8A", "rectangle")
    assert [h.use for h in one.holes] == ["drain"] * 2 + ["tie"] * 4
    assert one.holes_known
    assert not two.holes_known
    assert "not measured" in two.notes
    assert len(found.problems) == 1
    assert "missing" in found.problems[0]
    table = table_of_text(path.read_text(encoding="utf-8"), "pots.csv")
    assert imported(table, spoken_pots(table), {}).pots == found.pots
    again = read_list(path, {p.id: p for p in found.pots}, {}, tables().species, date(2026, 3, 1))
    assert not again.pots
    path.write_text(path.read_text(encoding="utf-8").replace("30x22", "34x22"), encoding="utf-8")
    changed = read_list(path, {p.id: p for p in found.pots}, {}, tables().species, date(2026, 3, 1))
    assert [(p.name, p.length_mm) for p in changed.pots] == [("Eins (2)", 340)]
