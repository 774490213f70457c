"""Readings without a window: one to be written down, what all of them say, and when each tree is to be looked at next."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from kesh.advice.case import Case
from kesh.advice.figures import figures_for
from kesh.advice.water.readings import Readings, read_all
from kesh.advice.water.year import asked_of
from kesh.base.errors import FieldError
from kesh.desk.ids import fresh_id
from kesh.model import Collection, Pot, Reading
from kesh.science.season.season import MONTHS

KIND_WORDS = {"stick": "by stick", "probe": "by probe", "weight": "by weight"}
STICK_WORDS = {"dry": "dry", "hardly": "hardly damp", "moist": "moist", "wet": "wet"}


def reading_of(held: Sequence[Reading], tree: str, kind: str, value: str, unit: str, at: str, full_at: str) -> Reading:
    """A reading as it was entered. Raises FieldError in a sentence."""
    told: float | str = value
    if kind != "stick":
        try:
            told = float(value.strip().replace(",", "."))
        except ValueError as err:
            raise FieldError(
                "value",
                f"'{value}' is no number; write what the {kind} shows, such as {'31' if kind == 'probe' else '4.2'}",
            ) from err
    key = fresh_id({r.id for r in held}, "reading")
    return Reading.made(
        id=key,
        tree=tree,
        at=_when(at),
        kind=kind,
        value=told,
        unit=unit,
        full_at=_when(full_at) if full_at.strip() else None,
    )


def _when(text: str) -> datetime:
    plain = text.strip()
    try:
        return datetime.fromisoformat(f"{plain}T12:00" if len(plain) == 10 else plain.replace(" ", "T"))
    except ValueError as err:
        raise FieldError("at", f"'{text}' is no hour; write it as 2026-07-10 08:00") from err


def value_words(r: Reading) -> str:
    """A reading as said."""
    if isinstance(r.value, str):
        return STICK_WORDS[r.value]
    return f"{r.value:g} {r.unit}".strip() if r.unit != "share" else f"{r.value:.0%}"


def when_words(at: datetime) -> str:
    """An hour of a day."""
    return f"{at.day} {MONTHS[at.month - 1]} {at:%H:%M}"


@dataclass(frozen=True)
class NextLook:
    """One tree of the bench: when it asks next, by its latest reading."""

    tree: str
    name: str
    at: datetime | None
    left: float | None


def readings_for(collection: Collection, tree: str, case: Case, pot: Pot, now: datetime) -> Readings | str:
    """A tree's readings in the pot it stands in; a sentence where they cannot be read."""
    try:
        return read_all(figures_for(case, [pot]), collection.readings_of(tree), asked_of(case.brief.keeping), now)
    except FieldError as err:
        return err.reason


def next_looks(found: Sequence[NextLook], now: datetime) -> str:
    """The bench in the order in which its trees ask for water."""
    rows = sorted(found, key=lambda n: (n.at is None, n.at or now))
    told = []
    for n in rows:
        if n.at is None:
            told.append(f"{n.name}: not for weeks")
        elif n.at <= now:
            told.append(f"{n.name}: now")
        else:
            told.append(f"{n.name}: {when_words(n.at)}")
    return "\n".join(told)
