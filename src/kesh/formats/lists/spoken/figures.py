"""Sizes as people write them: '30x22x8 cm', '12 1/4 x 9 x 2 3/4', 'Ø 24 x 9', '10in diameter 4in tall', '30-35 cm', 'about 30'."""

import re
from dataclasses import dataclass, field
from functools import cache

from kesh.base.units import ABOUT_WORDS, MM
from kesh.formats.lists.spoken.vocabulary import bare, meanings, quoted, said

FRACTION = r"\d+\s*/\s*(?:2|3|4|8|16|32)(?![\d/])"
WHOLE = r"\d+(?:[.,]\d+)?"
NUMBER = rf"(?:\d+[\s-]+{FRACTION}|{FRACTION}|{WHOLE})"
ABOUT = re.compile(rf"(?<![a-z])(?:{ABOUT_WORDS}|rund)\s*(?=\d|ø)")
TO = r"\s*(?:-|to|bis|a|hasta|fino a|ate)\s*"
# a range wider than this is a doubt; a narrower one stands in the notes [J]
WIDE = 1.25
# a cell longer than this is no size
MOST_LETTERS = 200
SIZES = ("length_mm", "width_mm", "height_mm")


@dataclass
class Sizes:
    """What was read: millimetres by field, what was left in doubt, whether no figure had a unit, and which they had."""

    mm: dict[str, float] = field(default_factory=dict)
    ranges: dict[str, tuple[float, float]] = field(default_factory=dict)
    doubts: list[str] = field(default_factory=list)
    bare_unit: bool = False
    unit: str = ""
    round: bool = False


@dataclass(frozen=True)
class Figure:
    """One figure: least and most where a range was written, its unit, and what stands beside it."""

    low: float
    high: float
    unit: str
    part: str

    @property
    def middle(self) -> float:
        """What is reckoned with."""
        return (self.low + self.high) / 2


def value(text: str) -> float:
    """'12 1/4', '3/4', '29,5', '4.5' as a number."""
    whole = re.fullmatch(r"(?:(\d+)[\s-]+)?(\d+)\s*/\s*(\d+)", text.strip())
    if whole:
        return float(whole[1] or 0) + float(whole[2]) / float(whole[3])
    plain = text.strip()
    if plain.count(",") + plain.count(".") > 1:
        plain = plain.replace(",", "").replace(".", "")
    return float(plain.replace(",", "."))


def _alternatives(kind: str) -> str:
    words = sorted(meanings(kind), key=len, reverse=True)
    return "|".join(re.escape(w) for w in words)


@cache
def _pattern(labels_first: bool) -> re.Pattern[str]:
    """A figure with its unit and the word that tells which size it is: before it ('L 30 B 22') or behind it ('30 long')."""
    units, parts = _alternatives("unit"), _alternatives("part")
    before = rf"(?:(?P<before>(?<![a-z])(?:{parts})|ø)\s*[:=.]?\s*)?"
    unit = rf"(?:\s*(?P<unit>(?:{units})(?![a-z])))?"
    # a figure that was told what it is before takes no word behind it: that belongs to the next
    behind = rf"(?:\s*(?P<after>(?:{parts})(?![a-z])\.?))?"
    after = r"(?P<after>ø)?" if labels_first else rf"(?(before)|{behind})"
    return re.compile(rf"{before}(?P<low>{NUMBER})(?:{TO}(?P<high>{NUMBER}))?{unit}{after}")


def _figures(text: str) -> list[Figure]:
    units, parts = meanings("unit"), meanings("part")
    first = rf"\s*(?!ø)(?:{_alternatives('part')})\s*[:=.]?\s*\d|ø.*(?<![a-z])[lwbhd]\d"
    found = []
    for m in _pattern(re.match(first, text) is not None).finditer(text):
        low = value(m["low"])
        high = value(m["high"]) if m["high"] else low
        if high < low and m["high"]:
            # '30-22' is no range: two sizes with a dash between them
            found += [Figure(low, low, "", ""), Figure(high, high, units.get(m["unit"] or "", ""), "")]
            continue
        part = (m["after"] or m["before"] or "").rstrip(".")
        found.append(Figure(low, high, units.get(m["unit"] or "", ""), "diameter_mm" if part == "ø" else parts.get(part, "")))  # fmt: skip
    return found


def _parted(text: str) -> str:
    """Signs between sizes put as one: '18/18/22', '30-22-8', '30 by 22', '30 mal 22' read as 30 x 22."""
    text = re.sub(r"(?<=[\d\"])\s*(?:by|mal|par|por|per|auf)\s+(?=\d)", " x ", text)
    three = rf"(?<![\d/])({WHOLE})\s*([/-])\s*({WHOLE})\s*\2\s*({WHOLE})(?![\d/])"
    text = re.sub(three, r"\1 x \3 x \4", text)
    # a letter of its kind may be glued to its figure: 30l x 20w x 8h
    return re.sub(r"(?<=\d)(?=[lwbhd]\b)", " ", text)


def sizes_of(text: str, unit: str, hint: str = "") -> Sizes:
    """The sizes in a cell; `unit` is for figures that have none, `hint` other words of the row that tell what is meant."""
    found = Sizes()
    plain = bare(text[:MOST_LETTERS])
    plain = ABOUT.sub("", plain)
    mended = re.sub(r"(?<=\d)o(?![a-z])|(?<![a-z])o(?=\d)", "0", plain)
    if mended != plain:
        found.doubts.append(f"a letter O among the figures of {quoted(text)} is read as nought")
        plain = mended
    figures = _figures(_parted(plain))
    if not figures:
        return found
    own = [f.unit for f in figures if f.unit]
    found.bare_unit, found.unit = not own, own[-1] if own else ""
    shared = own[-1] if own and figures[-1].unit else ""
    labelled: dict[str, Figure] = {}
    loose: list[Figure] = []
    for f in figures:
        if f.part and f.part not in labelled:
            labelled[f.part] = f
        else:
            loose.append(f)

    def put(name: str, f: Figure) -> None:
        factor = MM[f.unit or shared or (own[0] if own else unit)]
        found.mm[name] = round(f.middle * factor, 1)
        if f.high > f.low:
            found.ranges[name] = (round(f.low * factor, 1), round(f.high * factor, 1))

    across = labelled.pop("diameter_mm", None)
    if across is not None:
        found.round = True
        put("length_mm", across)
        put("width_mm", across)
    for name, f in labelled.items():
        put(name, f)
    left = [name for name in SIZES if name not in found.mm]
    if len(loose) == 1 and len(left) == 3:
        high = any(means == "height_mm" for _, means in said(hint, "part"))
        what = "taken for the height" if high else "put down as the height, though it may be any of them"
        found.doubts.append(f"one figure only: it is {what}; length and width are missing")
        put("height_mm", loose[0])
    elif len(loose) == 2 and len(left) == 3:
        if any(means == "round" for _, means in said(hint, "outline")):
            found.round = True
            put("length_mm", loose[0])
            put("width_mm", loose[0])
        else:
            found.doubts.append("two figures: taken as length and height; the width is missing")
            put("length_mm", loose[0])
        put("height_mm", loose[1])
    else:
        for name, f in zip(left, loose, strict=False):
            put(name, f)
        if len(loose) > len(left):
            found.doubts.append(f"more figures than sizes in {quoted(text)}")
    for name, (low, most) in found.ranges.items():
        if most > WIDE * low:
            found.doubts.append(f"{name.removesuffix('_mm')} {low:g} to {most:g} mm: the middle is reckoned with")
    return found
