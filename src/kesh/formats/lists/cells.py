"""What stands in a cell, as a figure or a word of Kesh's own. Raises FieldError that says what was expected."""

import re
from collections.abc import Mapping

from kesh.base.errors import FieldError
from kesh.base.units import LITRES, MASSES, MM, Units

NUMBER = re.compile(r"[-+]?\d[\d.,\s'\N{NO-BREAK SPACE}]*")
BLANK = ("", "-", "–", "n/a", "na", "?", "unknown", "null")


def length_mm(text: str, unit: str, field: str) -> float:
    """'30', '30,5', '30 cm', '12 in', '12\\"', '1 1/2 in' as mm; a bare figure is in the column's unit, mm where it names none."""
    return _measure(text, unit or "mm", MM, field, Units().parse_mm)


def litres(text: str, unit: str, field: str) -> float:
    """A volume as litres."""
    return _measure(text, unit or "l", LITRES, field, Units().parse_litres)


def kilograms(text: str, unit: str, field: str) -> float:
    """A mass as kg."""
    return _measure(text, unit or "kg", MASSES, field, Units().parse_kg)


def _measure(text: str, unit: str, units: Mapping[str, float], field: str, parse) -> float:  # type: ignore[no-untyped-def]
    plain = _grouped(text.strip())
    if re.search(r"[a-zA-Z\"]\s*$", plain):
        return float(parse(plain, field))
    return float(parse(f"{plain} {unit if unit in units else ''}".strip(), field))


def _grouped(text: str) -> str:
    """'1.250,5' and '1,250.5' without the signs that part the thousands; a lone comma is a decimal one."""
    figure = text.replace("'", "").replace("\N{NO-BREAK SPACE}", " ")
    if "," in figure and "." in figure:
        part = "," if figure.rfind(".") > figure.rfind(",") else "."
        figure = figure.replace(part, "")
    return figure


def number(text: str, field: str) -> float:
    """A plain figure; a currency sign beside it is left out."""
    plain = (
        _grouped(re.sub(r"[£€$¥]|fr\.?|kr\.?", "", text, flags=re.IGNORECASE).strip())
        .replace(",", ".")
        .replace(" ", "")
    )
    try:
        found = float(plain)
    except ValueError as err:
        raise FieldError(field, f"'{text}' is no number; write one, such as 4.5") from err
    if not abs(found) < 1e12:
        raise FieldError(field, f"'{text}' is no number that can be used")
    return found


def whole(text: str, field: str) -> int:
    """A whole figure."""
    found = number(text, field)
    if found != int(found):
        raise FieldError(field, f"'{text}' should be a whole number")
    return int(found)


def word(text: str, table: Mapping[str, tuple[str, ...]], field: str) -> str:
    """The key some words mean. Raises FieldError naming the keys."""
    said = re.sub(r"[^a-z0-9]+", " ", text.lower()).strip()
    for key, words in table.items():
        if said in (key.replace("_", " "), *words):
            return key
    raise FieldError(field, f"'{text}' is not understood; known are {', '.join(k.replace('_', ' ') for k in table)}")


def blank(text: str | None) -> bool:
    """Whether a cell says nothing."""
    return text is None or text.strip().lower() in BLANK
