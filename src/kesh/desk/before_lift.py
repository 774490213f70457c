"""The signs before lifting without a window: what was answered today, and the verdict in words."""

from datetime import date

from kesh.model import Sign, Tree
from kesh.science.season.before_lift import ASKED, BeforeLift
from kesh.science.season.season import Season, day_words

HEADS = {"go": "Go", "care": "Go with care", "wait": "Wait"}
STATUS = {"go": "fits", "care": "watch", "wait": "no"}


def with_answer(tree: Tree, sign: str, value: str, today: date) -> Tree:
    """The tree with a sign answered today, or not looked at when the value is empty; older answers are kept."""
    kept = tuple(s for s in tree.signs if not (s.sign == sign and s.date == today))
    return tree.changed(signs=(*kept, Sign(date=today, sign=sign, value=value)) if value else kept)


def season_words(season: Season | None, today: date) -> str:
    """Where the day lies by the climate; the sign on the tree comes first."""
    if season is None:
        return "Name the species to see its season."
    if season.first is None or season.last is None:
        return f"{season.name.capitalize()}: {season.why}."
    dates = f"{season.name}, {day_words(season.first)} to {day_words(season.last)}"
    if season.first <= today <= season.last:
        left = f"{season.days_left} day{'' if season.days_left == 1 else 's'} left"
        return f"In season by the climate: {dates}, {left}. The sign on the tree comes first."
    off = (season.first - today).days
    when = f"in {off} days" if off > 0 else f"{(today - season.last).days} days ago"
    near = "At the edge of the season" if season.status == "edge" else "Out of season"
    return f"{near} by the climate: {dates}, {when}. The sign on the tree comes first."


def verdict_words(lift: BeforeLift) -> tuple[str, str]:
    """(head, what speaks for it); open signs are named while few were looked at."""
    if not lift.told:
        return "Not looked yet", "Seven signs, a minute: they tell whether today is the day, and how much it bears."
    grave = [t.text for t in lift.told if t.verdict == lift.verdict] if lift.verdict != "go" else []
    text = " ".join(grave) or "Nothing that was seen speaks against it."
    if lift.verdict == "wait":
        text += " Same pot, or another pot without a cut, are good answers too."
    if 0 < len(lift.open) < 7 and lift.verdict == "go":
        text += f" Still to look at: {', '.join(ASKED[s].lower() for s in lift.open)}."
    return HEADS[lift.verdict], text
