"""Units at the edge: reading what people type and writing what they read. Inside, lengths are mm and volumes litres."""

import re
from dataclasses import dataclass
from typing import Literal

from kesh.base.errors import FieldError

LengthUnit = Literal["mm", "cm", "inch"]
VolumeUnit = Literal["l", "quart", "gallon"]
MassUnit = Literal["kg", "lb"]
HeatUnit = Literal["C", "F"]
WindUnit = Literal["m/s", "km/h", "mph"]
MM = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4, "inch": 25.4, '"': 25.4, "ft": 304.8}
LITRES = {"l": 1.0, "ml": 0.001, "quart": 0.946353, "qt": 0.946353, "gal": 3.785412}
WINDS = {"m/s": 1.0, "ms": 1.0, "km/h": 1 / 3.6, "kmh": 1 / 3.6, "kph": 1 / 3.6, "mph": 0.44704, "kn": 0.514444}
# a temperature and a wind in a finished sentence; a minus may be any of two signs
DEGREES = re.compile(r"([-\N{MINUS SIGN}]?)(\d+(?:\.\d+)?)(?:( to | and |–)([-\N{MINUS SIGN}]?)(\d+(?:\.\d+)?))? °C")
WIND = re.compile(r"(\d+(?:\.\d+)?) m/s")
KG_PER_LB = 0.45359237
MASSES = {"kg": 1.0, "g": 0.001, "lb": KG_PER_LB}
# words before a figure that is not meant to the millimetre
ABOUT_WORDS = r"about|approx(?:imately|\.)?|around|roughly|circa|ca\.?|c\.|etwa|ungef[aä]hr|env(?:iron|\.)|unos|aprox(?:imadamente|\.)|cerca de|[~≈±]"
ABOUT = re.compile(rf"^\s*(?:{ABOUT_WORDS})\s*", re.IGNORECASE)
FRACTIONS = {
    "½": " 1/2",
    "¼": " 1/4",
    "¾": " 3/4",
    "⅛": " 1/8",
    "⅜": " 3/8",
    "⅝": " 5/8",
    "⅞": " 7/8",
    "⅓": " 1/3",
    "⅔": " 2/3",
}
SIGNS = str.maketrans({"\N{MINUS SIGN}": "-", "–": "-", "—": "-", "″": '"', "”": '"'})
# other words for the units
ALSO = {
    "inches": "in", "zoll": "in", "cms": "cm", "centimetres": "cm", "centimeters": "cm", "millimetres": "mm", "millimeters": "mm", "feet": "ft", "foot": "ft",
    "litres": "l", "liters": "l", "litre": "l", "liter": "l", "gallons": "gal", "gallon": "gal", "quarts": "quart", "pounds": "lb", "lbs": "lb", "kilo": "kg", "kilos": "kg",
}  # fmt: skip
# no measure is written with more signs
MOST_SIGNS = 60
SPAN = re.compile(r'^(.*?\d[\d.,/ ]*)\s*([a-zA-Z"]*)\s*(?:-|\bto\b|\bbis\b)\s*(\d[^-]*)$')
MIXED = re.compile(r"\s*\d+-\d+\s*/\s*\d+\s*\D*")
NUMBER = re.compile(r"^\s*([+-]?)\s*(?:(\d+)[\s-]+)?(\d+(?:[.,]\d+)?)(?:\s*/\s*(\d+))?\s*([a-zA-Z\"]*)\s*$")


def _parse(text: str, units: dict[str, float], default: str, field: str) -> float:
    way = f"write a number and a unit, such as 62 {default}" if default else "write a number, such as 62"
    if len(text) > MOST_SIGNS:
        raise FieldError(field, f"'{text.strip()[:20]}…' is too long for a measure; {way}")
    plain = ABOUT.sub("", text.translate(SIGNS))
    for sign, figure in FRACTIONS.items():
        plain = plain.replace(sign, figure)
    span = None if MIXED.fullmatch(plain) else SPAN.match(plain)
    if span is not None:
        # a range is reckoned with by its middle; its unit may stand once
        end = re.search(r'[a-zA-Z"]+\s*$', span[3])
        low = _parse(f"{span[1]} {span[2] or (end.group() if end else '')}", units, default, field)
        high = _parse(span[3], units, default, field)
        if high < low:
            raise FieldError(field, f"'{text.strip()}' begins above its end; write the smaller figure first")
        return (low + high) / 2
    found = NUMBER.match(plain)
    if not found:
        raise FieldError(field, f"'{text.strip()}' is not a measure; {way}")
    sign, whole, number, over, unit = found.groups()
    if whole and not over:
        raise FieldError(field, f"'{text.strip()}' has two numbers; write one, such as {f'62 {default}'.strip()}")
    value = float(number.replace(",", "."))
    if over:
        if float(over) == 0:
            raise FieldError(field, f"'{text.strip()}' divides by zero")
        value = value / float(over) + float(whole or 0)
    if value > 1e9:
        raise FieldError(field, f"'{text.strip()}' is too large for a measure")
    key = ALSO.get(unit.lower(), unit.lower()) or default
    if key not in units:
        known = ", ".join(u for u in units if u) or "none: it is a plain number"
        raise FieldError(field, f"unit '{unit}' is not known here; use {known}")
    return value * units[key] * (-1 if sign == "-" else 1)


@dataclass(frozen=True)
class Units:
    """What the user reads and types."""

    length: LengthUnit = "mm"
    volume: VolumeUnit = "l"
    mass: MassUnit = "kg"
    heat: HeatUnit = "C"
    wind_in: WindUnit = "m/s"

    def figure(self, mm: float) -> str:
        """A length without its unit."""
        if self.length == "cm":
            return f"{mm / 10:.1f}"
        return f"{mm / 25.4:.2f}" if self.length == "inch" else f"{round(mm):d}"

    def mm(self, mm: float) -> str:
        """A length with its unit."""
        return f"{self.figure(mm)} {'in' if self.length == 'inch' else self.length}"

    def fine(self, mm: float) -> str:
        """A length to a twentieth of a millimetre or so, with its unit: walls and clearances."""
        value, digits = {"cm": (mm / 10, 3), "inch": (mm / 25.4, 3)}.get(self.length, (mm, 2))
        text = f"{value:.{digits}f}"
        return f"{text.rstrip('0').rstrip('.')} {'in' if self.length == 'inch' else self.length}"

    def band(self, low: float, high: float) -> str:
        """A range of lengths with one unit."""
        return f"{self.figure(low)}–{self.mm(high)}"

    def litres(self, value: float) -> str:
        """A volume with its unit."""
        if self.volume == "quart":
            value, unit = value / LITRES["quart"], "qt"
        elif self.volume == "gallon":
            value, unit = value / LITRES["gal"], "gal"
        else:
            unit = "l"
        return f"{value:.2f} {unit}" if value < 10 else f"{value:.1f} {unit}"

    def kg(self, value: float) -> str:
        """A mass with its unit."""
        return f"{value / KG_PER_LB:.1f} lb" if self.mass == "lb" else f"{value:.1f} kg"

    def parse_mm(self, text: str, field: str = "length") -> float:
        """Read a length. Raises FieldError that says how to write one."""
        return _parse(text, MM, "inch" if self.length == "inch" else self.length, field)

    def parse_kg(self, text: str, field: str = "mass") -> float:
        """Read a mass. Raises FieldError that says how to write one."""
        return _parse(text, MASSES, self.mass, field)

    def parse_litres(self, text: str, field: str = "volume") -> float:
        """Read a volume. Raises FieldError that says how to write one."""
        return _parse(text, LITRES, self.volume, field)

    @staticmethod
    def parse_plain(text: str, field: str = "number") -> float:
        """Read a number without a unit. Raises FieldError."""
        return _parse(text, {"": 1.0}, "", field)

    # --- warmth and wind ---------------------------------------------------------------------------------------------

    def degrees(self, celsius: float, digits: int = 0) -> str:
        """A temperature without its unit, with a true minus."""
        value = celsius * 9 / 5 + 32 if self.heat == "F" else celsius
        text = f"{value:.{digits}f}"
        return ("0" if float(text) == 0 else text).replace("-", "\N{MINUS SIGN}")

    def celsius(self, celsius: float, digits: int = 0) -> str:
        """A temperature with its unit."""
        return f"{self.degrees(celsius, digits)} °{self.heat}"

    def wind(self, m_s: float) -> str:
        """A wind with its unit."""
        return f"{m_s / WINDS[self.wind_in]:.0f} {self.wind_in}"

    def told(self, text: str) -> str:
        """A finished sentence with its temperatures and winds in the reader's units; figures are rounded as they stood."""
        if self.heat == "F" and "°C" in text:
            text = DEGREES.sub(self._fahrenheit, text)
        if self.wind_in != "m/s" and "m/s" in text:
            text = WIND.sub(lambda found: self.wind(float(found[1])), text)
        return text

    def _fahrenheit(self, found: re.Match[str]) -> str:
        def one(sign: str, figure: str) -> str:
            return self.degrees(-float(figure) if sign else float(figure), 1 if "." in figure else 0)

        span = "" if found[3] is None else found[3] + one(found[4], found[5])
        return f"{one(found[1], found[2])}{span} °F"

    def parse_celsius(self, text: str, field: str = "temperature") -> float:
        """Read a temperature, '41 F' or '5 °C'; a bare figure is in the reader's unit. Raises FieldError."""
        plain = text.replace("°", " ").strip()
        unit = plain[-1:].upper() if plain[-1:].upper() in ("C", "F") else self.heat
        value = _parse(plain.rstrip("CcFf"), {"": 1.0}, "", field)
        return (value - 32) * 5 / 9 if unit == "F" else value

    def parse_wind(self, text: str, field: str = "wind") -> float:
        """Read a wind in m/s. Raises FieldError that says how to write one."""
        plain = text.strip().lower()
        unit = next((u for u in WINDS if plain.endswith(u)), "")
        return _parse(plain.removesuffix(unit), {"": 1.0}, "", field) * WINDS[unit or self.wind_in]
