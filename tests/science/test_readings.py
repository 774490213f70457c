"""The pot's own factor: nothing said, much said, and what says nothing of the speed."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.base.errors import FieldError
from kesh.science.water.readings import PRIOR_SD, READING_SD, observed, pot_factor


def test_without_a_reading_the_pot_is_as_computed() -> None:
    none = pot_factor([])
    assert none.factor == 1
    assert none.low == pytest.approx(np.exp(-1.2816 * PRIOR_SD), rel=1e-3)
    assert "No reading" in none.words


def test_one_reading_is_weighed_against_what_was_thought() -> None:
    # by hand: precision 1/.35^2 and 1/.30^2
    a, b = 1 / PRIOR_SD**2, 1 / READING_SD**2
    assert pot_factor([1.6]).factor == pytest.approx(np.exp(np.log(1.6) * b / (a + b)))
    assert "faster" in pot_factor([1.6, 1.6, 1.5, 1.4]).words
    assert "4 readings" in pot_factor([1.6, 1.6, 1.5, 1.4]).words
    assert "slower" in pot_factor([0.5, 0.6]).words


@given(st.floats(0.3, 3), st.integers(1, 30))
def test_readings_alike_draw_the_factor_to_them_and_narrow_it(factor: float, count: int) -> None:
    less, more = pot_factor([factor] * count), pot_factor([factor] * (count + 5))
    assert abs(np.log(more.factor) - np.log(factor)) <= abs(np.log(less.factor) - np.log(factor)) + 1e-12
    assert np.log(more.high / more.low) < np.log(less.high / less.low)
    assert min(1, factor) - 1e-9 <= less.factor <= max(1, factor) + 1e-9


def test_a_reading_at_once_or_of_an_empty_pot_says_nothing_of_the_speed() -> None:
    assert observed(0.5, 0.6, 1.0) == pytest.approx(0.5 / 0.6)
    assert observed(1.0, 0.6, 1.0) is None
    assert observed(0.0, 0.6, 1.0) is None
    assert observed(0.5, 0.01, 1.0) is None
    with pytest.raises(FieldError, match="value"):
        observed(1.2, 0.6, 1.0)
    with pytest.raises(FieldError, match="above nought"):
        pot_factor([0.0])
