"""Fields of a climate and of habits in the reader's units: warmth, wind and height above the sea, told by the end of a field's name."""

from kesh.base.units import WINDS, Units

FOOT_M = 0.3048


def unit_of(name: str, u: Units) -> str:
    """The unit in which a field is shown; empty for a plain number."""
    if name.endswith("_m_s"):
        return u.wind_in
    if name.endswith("_c"):
        return f"°{u.heat}"
    return ("ft" if u.length == "inch" else "m") if name == "elevation_m" else ""


def shown(name: str, value: float | None, u: Units) -> str:
    """A value as it is shown and typed, without its unit."""
    if value is None:
        return ""
    if name.endswith("_m_s"):
        value = value / WINDS[u.wind_in]
    elif name.endswith("_c") and u.heat == "F":
        value = value * 9 / 5 + 32
    elif name == "elevation_m" and u.length == "inch":
        value = value / FOOT_M
    return f"{round(value, 1):g}".replace("-", "\N{MINUS SIGN}")


def read(name: str, text: str, u: Units) -> float | None:
    """What was typed, in the unit of the record; None where the field was emptied. Raises FieldError that says how to write it."""
    plain = text.strip()
    if not plain:
        return None
    if name.endswith("_m_s"):
        return round(u.parse_wind(plain), 3)
    if name.endswith("_c"):
        return round(u.parse_celsius(plain), 2)
    if name == "elevation_m":
        foot = plain.lower().endswith("ft") or (u.length == "inch" and not plain.lower().endswith("m"))
        value = u.parse_plain(plain.lower().removesuffix("ft").removesuffix("m"), name)
        return round(value * FOOT_M, 1) if foot else value
    return u.parse_plain(plain, name)
