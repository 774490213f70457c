"""One line of text for one reading: kind, value, unit, tolerance.

    L 84.20 mm 0.02        a length by calliper
    M 4.310 kg 0.005       a mass by scale
    P 0.31 share 0.03      water in the soil by probe, as a share of its volume
    W 2026-11-28 -2.0 6.5 1.2 2.0 80 3.1
                           a day by weather station: coldest and warmest C, rain mm, wind m/s, humidity %, sun h; - for none
    ? battery low          a word of the device itself

Units: mm, cm, inch for lengths, kg, g, lb for masses, share or % for a probe. Lines end in a line feed; a carriage return before it is ignored.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from kesh.base.errors import KeshError
from kesh.base.units import MASSES, MM
from kesh.model.site import Day

LENGTHS = {unit: MM[unit] for unit in ("mm", "cm", "inch")}
MOST_MM, MOST_KG = 5000.0, 500.0
MOST_CHARS = 80
Kind = Literal["length", "mass", "moisture"]
# letter: what it is, its units, the most there can be
KINDS: dict[str, tuple[Kind, Mapping[str, float], float]] = {
    "L": ("length", LENGTHS, MOST_MM),
    "M": ("mass", MASSES, MOST_KG),
    "P": ("moisture", {"share": 1.0, "%": 0.01}, 1.0),
}


class DeviceError(KeshError):
    """A device cannot be reached, or said something that is no reading."""


@dataclass(frozen=True)
class Taken:
    """A reading in mm, kg or as a share, its tolerance in the same unit, and when it arrived."""

    kind: Literal["length", "mass", "moisture"]
    value: float
    tolerance: float
    at: datetime

    @property
    def device(self) -> str:
        """What took it."""
        return {"length": "calliper", "mass": "scale", "moisture": "probe"}[self.kind]


def read_line(line: str, now: datetime) -> Taken | Day:
    """A line as a reading, or as a day of weather. Raises DeviceError for garbage, a wrong unit, or a value outside what trees and pots have."""
    text = line.strip()
    if text.startswith("?"):
        raise DeviceError(f"the device says: {text[1:].strip()[:60] or 'nothing'}")
    parts = text.split()
    if parts[:1] == ["W"]:
        return _day(parts[1:])
    shown = text[:24].encode("ascii", "replace").decode()
    if len(parts) != 4 or parts[0] not in KINDS or len(text) > MOST_CHARS:
        raise DeviceError(f"'{shown}' is no reading; press the device's button again")
    kind, units, most = KINDS[parts[0]]
    if parts[2] not in units:
        raise DeviceError(
            f"unit '{parts[2][:8]}' does not belong to a {kind}; switch the device to {next(iter(units))}"
        )
    try:
        value, tolerance = float(parts[1]) * units[parts[2]], float(parts[3]) * units[parts[2]]
    except ValueError as err:
        raise DeviceError(f"'{shown}' holds no number; press the device's button again") from err
    if not (0 <= value <= most and 0 <= tolerance <= most):
        raise DeviceError(f"{parts[1]} {parts[2]} cannot be; set the device to nought and measure again")
    return Taken(kind, value, tolerance, now)


def _day(parts: list[str]) -> Day:
    """A day of weather. Raises DeviceError."""
    names = ("tmin_c", "tmax_c", "rain_mm", "wind_m_s", "rh_pct", "sun_h")
    if not 3 <= len(parts) <= len(names) + 1:
        raise DeviceError("the station's line is no day; it sends date, coldest, warmest, rain, wind, humidity, sun")
    try:
        found = {n: None if p == "-" else float(p) for n, p in zip(names, parts[1:], strict=False)}
        return Day.made(date=parts[0], **found)
    except ValueError as err:
        raise DeviceError(f"the station's day cannot be: {err}") from err
