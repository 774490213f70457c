"""Words for people: counts, lists of things, colours."""

import pytest
from PyQt6.QtCore import Qt

from kesh.base.words import comma_and, counted
from kesh.model import Collection
from kesh.science.looks.colour_names import colour_words
from kesh.ui.commands import COMMANDS
from kesh.ui.widgets.palette import CommandBox
from kesh.ui.window import MainWindow


@pytest.mark.parametrize(
    ("colour", "said"),
    [
        ("#000000", "black"), ("#FFFFFF", "white"), ("#808080", "grey"), ("#B8A083", "buff"), ("#8A4B32", "red-brown"),
        ("#2F5D8A", "grey-blue"), ("#3F6B4A", "grey-green"), ("#C03028", "red"),
    ],
)  # fmt: skip
def test_a_colour_is_called_what_a_person_would_call_it(colour: str, said: str) -> None:
    assert colour_words(colour) == said


def test_no_pot_of_the_demo_is_called_by_a_number(demo: Collection) -> None:
    for pot in demo.pots.values():
        assert "#" not in colour_words(pot.colour)


def test_counts_and_lists() -> None:
    assert [counted(n, "tree") for n in (0, 1, 2)] == ["no tree", "1 tree", "2 trees"]
    assert counted(2, "log entry") == "2 log entries"
    assert [comma_and(x) for x in ([], ["a"], ["a", "b"], ["a", "b", "c"])] == ["", "a", "a and b", "a, b and c"]


@pytest.mark.parametrize(
    ("said", "found"),
    [
        ("nebari", "step_tree"),
        ("perched water", "step_lineup"),
        ("akadama", "reference"),
        ("shrinkage", "workshop"),
        ("jin", "step_tree"),
    ],
)
def test_the_field_s_own_words_find_the_place(window: MainWindow, said: str, found: str) -> None:
    box = CommandBox(window, window.session.theme, list(COMMANDS.values()), lambda key: None)
    box.line.setText(said)
    assert found in [row.data(0, Qt.ItemDataRole.UserRole) for row in box.rows]
    box.close()
