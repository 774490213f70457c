"""A group in one line: '15 of 3 to 8 mm, 20 to 40 cm' as that many trees, the thickest the tallest."""

import re

import numpy as np

from kesh.base.errors import FieldError
from kesh.base.units import FRACTIONS, Units
from kesh.model import GroupTree

MOST = 60
EXAMPLE = "15 of 3 to 8 mm, 20 to 40 cm"
COUNT = re.compile(r"^\s*(\d+)\s*(?:of\b|von\b|trees?\b|trunks?\b|stems?\b|[x×:])?\s*,?\s*", re.IGNORECASE)
SIZE = re.compile(
    r'(\d+(?:[.,]\d+)?)\s*(mm|cm|m|in|inch|inches|")?\s*(?:(?:to|-|–|bis|\.\.)\s*(\d+(?:[.,]\d+)?))?\s*(mm|cm|m|inches|inch|in|")?',
    re.IGNORECASE,
)
FRACTION = re.compile(r"(?:(\d+)\s+)?(\d+)\s*/\s*(\d+)")
# turned by the golden angle no two trees of a group stand behind one another or in one line
GOLDEN_DEG, WIDE, DEEP = 137.50776405, 0.42, 0.20
# no tree in a tray is taller
TALLEST_MM = 5000.0
# a group is said in one line
MOST_SIGNS = 120


def group_of(text: str, u: Units) -> tuple[GroupTree, ...]:
    """The trees of a group, evenly between the ends that were said. The thicker range is taken for heights.

    Raises FieldError that says how to write one, and for what cannot be.
    """
    for sign, figure in FRACTIONS.items():
        text = text.replace(sign, figure)
    found = COUNT.match(text) if len(text) <= MOST_SIGNS else None
    if found is None:
        raise FieldError("group", f"'{text.strip()[:40]}' does not begin with how many; write it as {EXAMPLE}")
    count, rest = int(found[1]), text[found.end() :]
    if not 2 <= count <= MOST:
        raise FieldError("group", f"{count} trees; a group has two to {MOST}")
    spans = sorted(_spans(rest, u), key=lambda span: span[1])
    if len(spans) != 2:
        raise FieldError("group", f"how thick and how tall they are is not both said; write it as {EXAMPLE}")
    thick, tall = spans
    if thick[0] <= 0 or tall[1] > TALLEST_MM:
        raise FieldError(
            "group",
            f"trunks from {u.mm(thick[0])} and heights up to {u.mm(tall[1])} cannot be; write the units of both",
        )
    if thick[1] * 2 > tall[1]:
        raise FieldError(
            "group", f"trunks of {u.mm(thick[1])} under heights of {u.mm(tall[1])} cannot be; write the units of both"
        )
    diameters = np.geomspace(thick[1], thick[0], count)
    heights = np.linspace(tall[1], tall[0], count)
    return tuple(
        GroupTree.made(
            id=str(n + 1), diameter_mm=round(float(d), 1), height_mm=round(float(h)), x_mm=round(x, 1), y_mm=round(y, 1)
        )
        for n, (d, h, (x, y)) in enumerate(zip(diameters, heights, _places(count, tall[1]), strict=True))
    )


def _spans(text: str, u: Units) -> list[tuple[float, float]]:
    """(low, high) in mm of every size that was said."""
    found = []
    text = FRACTION.sub(lambda m: f"{int(m[1] or 0) + int(m[2]) / max(int(m[3]), 1):g}", text)
    for low, unit_low, high, unit_high in SIZE.findall(text):
        unit = unit_high or unit_low
        one, other = (u.parse_mm(f"{v} {unit}".strip(), "group") for v in (low, high or low))
        if unit_low and unit_high:
            one = u.parse_mm(f"{low} {unit_low}", "group")
        found.append((min(one, other), max(one, other)))
    return found


def _places(count: int, tall_mm: float) -> list[tuple[float, float]]:
    """Where they stand until they are laid out: the main tree a little off the middle, the others round it."""
    turns = np.radians(GOLDEN_DEG) * np.arange(count)
    out = np.sqrt(np.arange(count) / max(count, 2))
    x = WIDE * tall_mm * out * np.cos(turns) - 0.08 * tall_mm
    y = DEEP * tall_mm * out * np.sin(turns)
    return [(float(a), float(b)) for a, b in zip(x, y, strict=True)]
