"""Colours of pot and tree compared as the eye does: CIEDE2000 differences, and how far a pot draws the eye.

Sources: CIE 142-2001 (the difference, by coloraide); the weights of the pull and its band are judgement [J].
"""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

from kesh.base.errors import FieldError

# Starting points [J]: below the band a pot vanishes against its tree, above it the pot is seen first.
PULL_BAND = (0.12, 0.60)
LIGHTNESS_SPAN, CHROMA_SPAN = 70.0, 55.0
ECHO = 16.0


@lru_cache(maxsize=4096)
def lab_of(colour: str) -> tuple[float, float, float]:
    """L*, a*, b* (D65) of an sRGB colour such as #7A6A58. Raises FieldError for what is no colour."""
    from coloraide import Color

    try:
        light, a, b = Color(colour).convert("lab-d65").coords()
    except ValueError as err:
        raise FieldError("colour", f"'{colour}' is no colour; write it as #rrggbb") from err
    return float(light), float(a), float(b)


@lru_cache(maxsize=8192)
def difference(one: str, other: str) -> float:
    """CIEDE2000 between two sRGB colours: 1 is just seen side by side, 10 at a glance, above 40 opposite.

    Raises FieldError for what is no colour.
    """
    from coloraide import Color

    lab_of(one)
    lab_of(other)
    return float(Color(one).delta_e(other, method="2000"))


@lru_cache(maxsize=8192)
def chroma(colour: str) -> float:
    """Distance from grey, C*ab."""
    _, a, b = lab_of(colour)
    return float((a * a + b * b) ** 0.5)


def pull(pot: str, tree: Mapping[str, float]) -> float:
    """How far a pot draws the eye from its tree, 0 not at all .. 1 and more: lightness apart and chroma beyond.

    `tree` holds the tree's colours with their shares of what is seen. Raises FieldError when the shares are nought.
    """
    total = sum(tree.values())
    if total <= 0:
        raise FieldError("tree colours", "the tree shows no colour; the pull is undefined")
    light = sum(lab_of(c)[0] * share for c, share in tree.items()) / total
    colourful = sum(chroma(c) * share for c, share in tree.items()) / total
    apart = abs(lab_of(pot)[0] - light) / LIGHTNESS_SPAN
    beyond = max(chroma(pot) - colourful, 0.0) / CHROMA_SPAN
    return float((apart**2 + beyond**2) ** 0.5)


@dataclass(frozen=True)
class ColourLine:
    """One colour of the tree beside the pot: what it is, its difference, and whether the pot echoes or sets it off."""

    part: str
    colour: str
    difference: float

    @property
    def words(self) -> str:
        """Echo, near, or contrast."""
        if self.difference < ECHO:
            return "echoes it"
        return "sets it off" if self.difference > 2.5 * ECHO else "stands apart"


def compared(pot: str, parts: Mapping[str, str | None]) -> tuple[ColourLine, ...]:
    """The pot's colour against every known colour of the tree, nearest first."""
    lines = [ColourLine(part, colour, difference(pot, colour)) for part, colour in parts.items() if colour]
    return tuple(sorted(lines, key=lambda x: x.difference))
