"""Weather from a CSV: twelve months or many days, columns by name, units told in the head or by whoever brings it.

    date, tmin_c, tmax_c, rain_mm, wind_m_s, rh_pct, sun_h        one row a day
    month, tmin_c, tmax_c, rain_mm, wind_m_s, rh_pct, sun_h       twelve rows

Heads may be written otherwise (`Min temp (F)`, `rain in`, `wind km/h`): the name tells what, the unit how much.
"""

import csv
import io
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import date
from pathlib import Path

from kesh.base.errors import BundleError, FieldError
from kesh.base.progress import Progress
from kesh.base.writing import reason, shown
from kesh.model import Day, Month

MOST_BYTES, MOST_ROWS = 32 * 1024 * 1024, 60_000
Convert = Callable[[float], float]
UNITS: Mapping[str, Mapping[str, Convert]] = {
    "degrees": {"c": lambda v: v, "f": lambda v: (v - 32) / 1.8, "k": lambda v: v - 273.15},
    "rain": {"mm": lambda v: v, "cm": lambda v: 10 * v, "in": lambda v: 25.4 * v, "inch": lambda v: 25.4 * v, "l": lambda v: v},
    "wind": {"m_s": lambda v: v, "ms": lambda v: v, "km_h": lambda v: v / 3.6, "kmh": lambda v: v / 3.6, "mph": lambda v: 0.44704 * v,
             "kn": lambda v: 0.514444 * v, "kt": lambda v: 0.514444 * v, "knots": lambda v: 0.514444 * v},
    "share": {"pct": lambda v: v, "percent": lambda v: v, "share": lambda v: 100 * v, "1": lambda v: 100 * v},
    "sun": {"h": lambda v: v, "hours": lambda v: v, "min": lambda v: v / 60, "minutes": lambda v: v / 60, "s": lambda v: v / 3600},
}  # fmt: skip
# what a column is, by words in its head; the first that is there counts
KINDS = (
    ("date", ("date", "day", "time")), ("month", ("month",)),
    ("tmin", ("tmin", "min temp", "temp min", "minimum", "t min", "low", "coldest", "tn")),
    ("tmax", ("tmax", "max temp", "temp max", "maximum", "t max", "high", "warmest", "tx")),
    ("rain", ("rain", "precip", "prcp", "rr")), ("wind", ("wind", "wspd")), ("rh", ("rh", "humid", "hum")), ("sun", ("sun", "insolation")),
    ("forecast", ("forecast",)),
)  # fmt: skip
FIELDS = {"tmin": ("tmin_c", "degrees", "c"), "tmax": ("tmax_c", "degrees", "c"), "rain": ("rain_mm", "rain", "mm"),
          "wind": ("wind_m_s", "wind", "m_s"), "rh": ("rh_pct", "share", "pct"), "sun": ("sun_h", "sun", "h")}  # fmt: skip
MONTH_NAMES = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")


@dataclass(frozen=True)
class WeatherFile:
    """What came in: twelve months or many days, rows left out with why, and how each column was read."""

    months: tuple[Month, ...]
    days: tuple[Day, ...]
    problems: tuple[str, ...]
    read_as: tuple[str, ...]


@dataclass(frozen=True)
class _Column:
    kind: str
    at: int
    convert: Convert
    words: str


def read_weather(path: Path, *, forecast: bool = False, progress: Progress | None = None) -> WeatherFile:
    """A weather file. A row that cannot be read is one sentence. Raises BundleError for what is no such file."""
    try:
        if path.stat().st_size > MOST_BYTES:
            raise BundleError(f"{shown(path)} is larger than {MOST_BYTES // 2**20} MB; bring a part of it")
        text = path.read_text(encoding="utf-8-sig")
    except (OSError, ValueError) as err:
        raise BundleError(f"{shown(path)} cannot be read as text: {reason(err)}") from err
    return weather_of_text(text, shown(path), forecast=forecast, progress=progress)


def weather_of_text(
    text: str, name: str = "the file", *, forecast: bool = False, progress: Progress | None = None
) -> WeatherFile:
    """The same of text. Raises BundleError where no head tells dates or months and both temperatures."""
    if "\0" in text:
        raise BundleError(f"{name} is no text with columns")
    sample = text[:4096]
    mark = max((";", "\t", ","), key=sample.count)
    try:
        every = list(csv.reader(io.StringIO(text), delimiter=mark))
    except csv.Error as err:
        raise BundleError(f"{name} is no text with columns: {err}") from err
    rows = [r for r in every if any(c.strip() for c in r) and not r[0].lstrip().startswith("#")]
    if not rows:
        raise BundleError(f"{name} is empty; a head such as date, tmin_c, tmax_c, rain_mm is wanted")
    if len(rows) > MOST_ROWS:
        raise BundleError(f"{name} has more than {MOST_ROWS} rows; bring a part of it")
    columns = {c.kind: c for c in (_column(i, head) for i, head in enumerate(rows[0])) if c is not None}
    if not {"tmin", "tmax"} <= set(columns) or not {"date", "month"} & set(columns):
        raise BundleError(
            f"{name}: the head must name date or month, the coldest and the warmest temperature; it has {', '.join(rows[0][:8])}"
        )
    told = tuple(c.words for c in columns.values() if c.words)
    problems: list[str] = []
    if "month" in columns and "date" not in columns:
        return WeatherFile(_months(rows[1:], columns, name, mark), (), (), told)
    days = []
    for n, row in enumerate(rows[1:]):
        if progress is not None and n % 400 == 0:
            progress.at(n / len(rows))
        try:
            day = _day(row[columns["date"].at])
            told_forecast = "forecast" in columns and _cell(row, columns["forecast"].at).lower() in (
                "1",
                "true",
                "yes",
                "y",
            )
            days.append(Day.made(date=day, forecast=forecast or told_forecast, **_values(row, columns, mark)))
        except (FieldError, IndexError) as err:
            problems.append(f"row {n + 2}: {err.reason if isinstance(err, FieldError) else 'it has too few columns'}")
    if not days:
        raise BundleError(
            f"{name}: no row could be read as a day; the first says {problems[0] if problems else 'nothing'}"
        )
    _looks_wrong(days, problems)
    return WeatherFile((), tuple(sorted(days, key=lambda d: d.date)), tuple(problems), told)


def _column(at: int, head: str) -> _Column | None:
    plain = re.sub(r"[^a-z0-9%°/]+", " ", head.strip().lower()).strip()
    spread = re.sub(r"[^a-z0-9%]+", "_", plain)
    kind = next((k for k, words in KINDS if any(re.search(rf"(^|[ _]){re.escape(w)}", plain) for w in words)), None)
    if kind is None:
        return None
    if kind not in FIELDS:
        return _Column(kind, at, lambda v: v, "")
    field, unit_kind, usual = FIELDS[kind]
    known = UNITS[unit_kind]
    last = spread.replace("%", "pct").split("_")
    unit = next((u for u in known if u in ("_".join(last[-2:]), last[-1]) and len(last) > 1), usual)
    return _Column(kind, at, known[unit], f"{head.strip()} as {field.rsplit('_', 1)[0]} in {unit.replace('_', '/')}")


def _cell(row: list[str], at: int) -> str:
    return row[at].strip() if at < len(row) else ""


def _number(text: str, mark: str) -> float | None:
    plain = text.strip().replace("\N{MINUS SIGN}", "-")
    if mark != ",":
        plain = plain.replace(",", ".")
    if plain.lower() in ("", "na", "n/a", "nan", "-", "--", "null", "m", "-9999", "-999", "-99.9", "9999"):
        return None
    try:
        return float(plain)
    except ValueError as err:
        raise FieldError("value", f"'{text[:20]}' is no number") from err


def _values(row: list[str], columns: Mapping[str, _Column], mark: str) -> dict[str, float | None]:
    found: dict[str, float | None] = {}
    for kind, (field, _, _) in FIELDS.items():
        if kind in columns:
            value = _number(_cell(row, columns[kind].at), mark)
            found[field] = None if value is None else round(columns[kind].convert(value), 4)
    if found.get("tmin_c") is None or found.get("tmax_c") is None:
        raise FieldError("tmin_c", "the coldest or the warmest temperature is missing")
    return found


def _day(text: str) -> date:
    plain = text.strip()[:10].replace("/", "-").replace(".", "-")
    try:
        return date.fromisoformat(plain if "-" in plain else f"{plain[:4]}-{plain[4:6]}-{plain[6:8]}")
    except ValueError as err:
        raise FieldError("date", f"'{text[:20]}' is no day; write it as 2026-07-10") from err


def _months(rows: list[list[str]], columns: Mapping[str, _Column], name: str, mark: str) -> tuple[Month, ...]:
    found: dict[int, Month] = {}
    for n, row in enumerate(rows):
        text = _cell(row, columns["month"].at).lower()
        month = next(
            (i + 1 for i, m in enumerate(MONTH_NAMES) if text.startswith(m)), int(text) if text.isdecimal() else 0
        )
        if not 1 <= month <= 12:
            raise BundleError(f"{name}: row {n + 2}: '{text}' is no month; write 1 to 12 or its name")
        try:
            values = _values(row, columns, mark)
            if "sun_h" in values:
                values["sun_h_day"] = values.pop("sun_h")
            found[month] = Month.made(**values)
        except FieldError as err:
            raise BundleError(f"{name}: row {n + 2}: {err.reason}") from err
    if len(found) != 12:
        missing = [str(m) for m in range(1, 13) if m not in found]
        raise BundleError(f"{name}: twelve months are wanted; {', '.join(missing)} missing")
    return tuple(found[m] for m in range(1, 13))


def _looks_wrong(days: list[Day], problems: list[str]) -> None:
    """What can be but hardly is: units that were not told."""
    warm = sorted(d.tmax_c for d in days)[len(days) // 2]
    if warm > 42:
        problems.append(
            f"half of all days are over {warm:.0f} °C: are these degrees F? Write the unit in the head, such as tmax_f"
        )
    rain = [d.rain_mm for d in days if d.rain_mm]
    if len(rain) > 60 and max(rain) < 4:
        problems.append(
            "no day has more than 4 mm of rain: are these inches? Write the unit in the head, such as rain_in"
        )
