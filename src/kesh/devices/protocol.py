"""One line of text for one reading: kind, value, unit, tolerance.

    L 84.20 mm 0.02        a length by calliper
    M 4.310 kg 0.005       a mass by scale
    ? battery low          a word of the device itself

Units: mm, cm, inch for lengths, kg, g, lb for masses. Lines end in a line feed; a carriage return before it is ignored.
"""

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from kesh.errors import KeshError
from kesh.model.units import MASSES, MM

LENGTHS = {unit: MM[unit] for unit in ("mm", "cm", "inch")}
MOST_MM, MOST_KG = 5000.0, 500.0
MOST_CHARS = 80


class DeviceError(KeshError):
    """A device cannot be reached, or said something that is no reading."""


@dataclass(frozen=True)
class Taken:
    """A reading in mm or kg, its tolerance in the same unit, and when it arrived."""

    kind: Literal["length", "mass"]
    value: float
    tolerance: float
    at: datetime

    @property
    def device(self) -> str:
        """What took it."""
        return "calliper" if self.kind == "length" else "scale"


def read_line(line: str, now: datetime) -> Taken:
    """A line as a reading. Raises DeviceError for garbage, a wrong unit, or a value outside what trees and pots have."""
    text = line.strip()
    if text.startswith("?"):
        raise DeviceError(f"the device says: {text[1:].strip()[:60] or 'nothing'}")
    parts = text.split()
    shown = text[:24].encode("ascii", "replace").decode()
    if len(parts) != 4 or parts[0] not in ("L", "M") or len(text) > MOST_CHARS:
        raise DeviceError(f"'{shown}' is no reading; press the device's button again")
    units = LENGTHS if parts[0] == "L" else MASSES
    if parts[2] not in units:
        raise DeviceError(
            f"unit '{parts[2][:8]}' does not belong to a {'length' if parts[0] == 'L' else 'mass'}; switch the device to {next(iter(units))}"
        )
    try:
        value, tolerance = float(parts[1]) * units[parts[2]], float(parts[3]) * units[parts[2]]
    except ValueError as err:
        raise DeviceError(f"'{shown}' holds no number; press the device's button again") from err
    most = MOST_MM if parts[0] == "L" else MOST_KG
    if not (0 <= value <= most and 0 <= tolerance <= most):
        raise DeviceError(f"{parts[1]} {parts[2]} cannot be; set the device to nought and measure again")
    return Taken("length" if parts[0] == "L" else "mass", value, tolerance, now)
