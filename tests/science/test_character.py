"""How strong a tree looks: by species and traits, inside its scale, each trait one way only."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.model import TRAITS, Trait
from kesh.science.looks.character import WEIGHT, mood, strength, strong

traits = st.lists(st.builds(Trait, kind=st.sampled_from(TRAITS), strength=st.integers(1, 3)), max_size=6)


@given(st.floats(-2, 2), traits)
def test_strength_stays_on_its_scale(usual: float, held: list[Trait]) -> None:
    assert -2 <= strength(usual, held) <= 2


@given(st.floats(-0.5, 0.5), st.sampled_from(TRAITS), st.integers(1, 2))
def test_a_stronger_trait_moves_further_the_same_way(usual: float, kind: str, step: int) -> None:
    weak, more = (strength(usual, [Trait(kind=kind, strength=n)]) for n in (step, step + 1))
    assert (more - usual) * WEIGHT[kind] >= (weak - usual) * WEIGHT[kind] > 0  # type: ignore[index]


def test_worked_examples() -> None:
    assert strength(1.0, [Trait(kind="smooth_bark", strength=3)]) == pytest.approx(0.3)
    assert strength(None, []) == 0
    assert strength(0, [Trait(kind="powerful", strength=3), Trait(kind="rough_bark", strength=3)]) == 2
    assert [mood(x) for x in (-1.0, -0.9, 0.9, 1.0)] == ["delicate", "balanced", "balanced", "powerful"]


def test_colour_counts_from_clear_on() -> None:
    assert not strong([Trait(kind="blooms", strength=1)], "blooms", "fruits")
    assert strong([Trait(kind="fruits", strength=2)], "blooms", "fruits")
    assert not strong([Trait(kind="deadwood", strength=3)], "blooms")
