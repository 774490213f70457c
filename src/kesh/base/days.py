"""Days as people write them: in any order that can only be one day, with months in words, 'yesterday', 'three weeks ago', 'last spring'."""

import re
from datetime import date, timedelta

from kesh.base.errors import FieldError
from kesh.base.words import folded

MONTHS = (
    ("january", "januar", "janvier", "enero", "gennaio", "janeiro", "jaenner"), ("february", "februar", "fevrier", "febrero", "febbraio", "fevereiro"),
    ("march", "marz", "maerz", "mars", "marzo", "marco"), ("april", "avril", "abril", "aprile"), ("may", "mai", "mayo", "maggio", "maio"),
    ("june", "juni", "juin", "junio", "giugno", "junho"), ("july", "juli", "juillet", "julio", "luglio", "julho"),
    ("august", "aout", "agosto"), ("september", "septembre", "septiembre", "settembre", "setembro"), ("october", "oktober", "octobre", "octubre", "ottobre", "outubro"),
    ("november", "novembre", "noviembre", "novembro"), ("december", "dezember", "decembre", "diciembre", "dicembre", "dezembro"),
)  # fmt: skip
BACK = {
    "today": 0, "now": 0, "heute": 0, "aujourd hui": 0, "hoy": 0, "oggi": 0, "hoje": 0, "yesterday": 1, "gestern": 1, "hier": 1, "ayer": 1, "ieri": 1, "ontem": 1,
    "the day before yesterday": 2, "day before yesterday": 2, "vorgestern": 2, "avant hier": 2, "anteayer": 2, "tomorrow": -1, "morgen": -1, "demain": -1,
    "manana": -1, "domani": -1, "amanha": -1, "last week": 7, "a week ago": 7, "letzte woche": 7, "la semaine derniere": 7, "a month ago": 30, "last month": 30, "a year ago": 365,
}  # fmt: skip
# the middle month of each season north of the equator
SEASONS = {
    4: ("spring", "fruhling", "fruhjahr", "printemps", "primavera"), 7: ("summer", "sommer", "ete", "verano", "estate", "verao"),
    10: ("autumn", "fall", "herbst", "automne", "otono", "autunno", "outono"), 1: ("winter", "hiver", "invierno", "inverno"),
}  # fmt: skip
COUNTS = {"a": 1, "an": 1, "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "ten": 10}
SPANS = {
    "day": 1, "week": 7, "fortnight": 14, "month": 30, "year": 365, "tag": 1, "tagen": 1, "woche": 7, "wochen": 7, "monat": 30, "monaten": 30, "jahr": 365, "jahren": 365,
    "jour": 1, "semaine": 7, "moi": 30, "an": 365, "dia": 1, "semana": 7, "mese": 30, "ano": 365,
}  # fmt: skip
# so many days back is still meant, and a day is written with no more signs
MOST_BACK, MOST_SIGNS = 40_000, 60
LATEST_YEAR, EARLIEST_YEAR = 2200, 1900


def _plain(text: str) -> str:
    bare = re.sub(r"(?<=\d)(?:st|nd|rd|th|er)\b|[.,'’](?=\s|$)|\bof\b|\bde\b|\bdel\b|\ble\b", " ", folded(text))
    return " ".join(bare.replace("'", " ").split())


def _month(word: str) -> int | None:
    """The month that a word or its beginning of three letters or more means, where it is only one."""
    exact = {n for n, names in enumerate(MONTHS, 1) if word in names}
    begun = {n for n, names in enumerate(MONTHS, 1) if len(word) >= 3 and any(name.startswith(word) for name in names)}
    hits = exact or begun
    return hits.pop() if len(hits) == 1 else None


def _year(text: str) -> int:
    year = int(text)
    return year if len(text) > 2 else 2000 + year if year < 70 else 1900 + year


def _made(year: int, month: int, day: int, text: str) -> date:
    try:
        found = date(year, month, day)
    except (ValueError, OverflowError) as err:
        raise FieldError("date", f"'{text}' is no day of the calendar; write it as 2025-03-17") from err
    if not EARLIEST_YEAR <= year <= LATEST_YEAR:
        raise FieldError("date", f"'{text}' is too far away to be meant; write the year in full, such as 2025")
    return found


def _figures(parts: list[str], text: str) -> date | None:
    """Three figures: only where one order of them is a day, or all orders are the same day."""
    if len(parts) != 3 or not all(p.isdecimal() for p in parts):
        return None
    a, b, c = parts
    if len(a) == 4:
        return _made(int(a), int(b), int(c), text)
    year = _year(c)
    one, other = int(a), int(b)
    if "." in text or one > 12 or one == other:
        # a point between them, or a day over twelve, leaves no doubt which is the month
        return _made(year, other, one, text)
    if other > 12:
        return _made(year, one, other, text)
    raise FieldError(
        "date", f"'{text}' can be two days; write it as {year}-{one:02d}-{other:02d} or {year}-{other:02d}-{one:02d}"
    )


def _in_words(words: list[str], today: date | None, text: str, ahead: bool) -> date | None:
    """A day with its month as a word, in any order; without a year the last such day that was, or `ahead` the next to come."""
    months = [(i, m) for i, w in enumerate(words) if (m := _month(w)) is not None]
    if len(months) != 1:
        return None
    at, month = months[0]
    rest = [w for i, w in enumerate(words) if i != at]
    if not all(w.isdecimal() for w in rest) or len(rest) > 2:
        return None
    years = [w for w in rest if len(w) == 4]
    days = [w for w in rest if len(w) <= 2]
    if len(rest) == 2 and not years:
        days, years = [rest[0]], [rest[1]]
    day = int(days[0]) if days else 15
    if years:
        return _made(_year(years[0]), month, day, text)
    if today is None:
        return None
    found = _made(today.year, month, day, text)
    if ahead:
        return found if found >= today else _made(today.year + 1, month, day, text)
    return found if found <= today + timedelta(days=183) else _made(today.year - 1, month, day, text)


def _season(plain: str, today: date, south: bool) -> date | None:
    """The middle of a season: of the year named, else of the last one that was."""
    found = re.fullmatch(r"(?:(?:last|this|letzten|letztes|letzter|dernier|in|im) )?(\w+)(?: (\d{4}))?", plain)
    month = next((m for m, names in SEASONS.items() if found is not None and found[1] in names), None)
    if found is None or month is None:
        return None
    month = (month + 5) % 12 + 1 if south else month
    if found[2]:
        return _made(int(found[2]), month, 15, plain)
    day = date(today.year, month, 15)
    return day if day <= today else date(today.year - 1, month, 15)


def _spoken(plain: str, today: date) -> date | None:
    if plain in BACK:
        return today - timedelta(days=BACK[plain])
    ago = re.fullmatch(r"(vor |il y a |hace )?(\d+|[a-z]+) (\w+?)s?( ago| fa| atras)?", plain)
    if ago is None or not (ago[1] or ago[4]):
        return None
    count, span = int(ago[2]) if ago[2].isdecimal() else COUNTS.get(ago[2]), SPANS.get(ago[3])
    return None if count is None or span is None or count * span > MOST_BACK else today - timedelta(days=count * span)


def day_of(text: str, today: date | None, field: str = "date", *, ahead: bool = False, south: bool = False) -> date:
    """The day that some words mean. A season means its middle day, on the side of the equator, a month without a day its fifteenth.

    Without a `today`, as in a list that may be old, only days that name their year are days. `ahead` takes the next such
    day where no year is named, else it is the last. Raises FieldError where it is no day, or where it can be two: then the
    sentence names both.
    """
    shown = " ".join(text.split())[:MOST_SIGNS]
    parts = re.split(r"[-./\s]+", _plain(text).strip(" .-/")) if len(text) <= MOST_SIGNS else []
    plain = _plain(text) if parts else ""
    try:
        found = None
        if today is not None:
            found = _spoken(plain, today) or _season(plain, today, south)
        found = found or _figures(parts, shown) or _in_words(parts, today, shown, ahead)
        if found is None and re.fullmatch(r"\d{8}", plain):
            found = _made(int(plain[:4]), int(plain[4:6]), int(plain[6:]), shown)
    except FieldError as err:
        raise FieldError(field, err.reason) from err
    if found is None:
        ways = (
            "2025-03-17 or 17 Mar 2025"
            if today is None
            else f"{today.year}-07-10, 10 July or tomorrow"
            if ahead
            else "2025-03-17, 17 Mar 2025, yesterday or 3 weeks ago"
        )
        raise FieldError(field, f"'{shown}' is no day; write it as {ways}")
    return found
