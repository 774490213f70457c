"""What the weather asks: tender trees in and out, rain spells, heat, frost. By days read or written down, else by the usual year."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date

from kesh.advice.season.asking import told
from kesh.advice.season.facts import Facts
from kesh.advice.season.follows import made
from kesh.model import Day, Habits, Task, Tree
from kesh.science.season.days import later
from kesh.science.season.windows import YEAR, Year

TENDER = frozenset({"tropical", "succulent", "palmlike"})
WET_MM, PLAN_K, COOL_PLACE_K, MOVE_DAYS, SHADE_DAYS = 1.0, 3.0, 3.0, 14, 3
# a spell that begins so soon after an answer is the same one
REST_DAYS = 7


def coming_days(days: Sequence[Day], today: date) -> list[Day]:
    """Days from today on that somebody wrote down or read from a forecast, in order."""
    return sorted((d for d in days if d.date >= today), key=lambda d: d.date)


def weather_tasks(book: Facts, tree: Tree, days: Sequence[Day]) -> Iterator[Task]:
    """Tasks of one tree. Nothing is asked of a tree that lives under glass or indoors the year round but heat.

    What the weather asks is a state with a way back: out or in, open or covered. Each change is asked once, however the
    forecast moves; the next is asked when this one is answered.
    """
    c, species = book.c, book.species(tree)
    if species is None:
        return
    keeping = book.brief(tree.id).keeping if tree.id in c.briefs else None
    housed = keeping is not None and keeping.shelter != ""
    habits = book.habits
    if species.group in TENDER and not housed:
        yield from _in_and_out(book, tree, days)
    if species.group == "succulent" and not (keeping is not None and keeping.roofed) and not housed:
        yield from _state(book, tree, "rain", _rain(days, habits))
    yield from _state(book, tree, "heat", _heat(days, habits))
    if not housed and species.root_hardy_c is not None and species.group not in TENDER:
        yield from _state(book, tree, "frost", _frost(days, species.root_hardy_c))


@dataclass(frozen=True)
class Spell:
    """What the weather asks for: the days on which it is done, when the cause ends, and why."""

    first: date
    last: date
    ends: date
    why: str
    text: str
    sign: str


@dataclass(frozen=True)
class Turn:
    """A change of state: the kind that asks for it, the kind that takes it back, and the words of the way back."""

    there: str
    back: str
    text: str
    sign: str


TURNS = {
    "rain": Turn("shelter_rain", "open_rain", "Back into the open; its soil has dried.", "Its soil is dry again."),
    "heat": Turn("shade_heat", "open_heat", "Back to its usual light.", "The heat is over."),
    "frost": Turn("frost_cover", "uncover", "Take the cover off, so that it does not start too early.", "The cold is over."),
}  # fmt: skip


def _state(book: Facts, tree: Tree, word: str, spell: Spell | None) -> Iterator[Task]:
    """What is to be asked now of one state: the change that comes next, and what was answered before it."""
    turn, number = TURNS[word], 1
    while True:
        there, back = f"{word}-{tree.id}-{number}", f"{word}-{tree.id}-{number}-back"
        closed = _closing(book, there)
        if closed is None:
            if spell is not None:
                yield made(there, tree.id, turn.there, spell.first, spell.last, spell.text, spell.why, spell.sign)
            return
        said, day = closed
        over = later(day, REST_DAYS)
        if said == "left_out":
            # it was decided not to: this spell is not asked again
            if spell is not None and spell.first <= over:
                return
        else:
            ended = _closing(book, back)
            begins = max(spell.ends, day) if spell is not None else max(day, min(book.today, over))
            if ended is None or ended[1] >= day:
                yield made(
                    back,
                    tree.id,
                    turn.back,
                    begins,
                    later(begins, MOVE_DAYS),
                    turn.text,
                    "as the weather was",
                    turn.sign,
                )
            if ended is None:
                return
        number += 1


def _closing(book: Facts, key: str) -> tuple[str, date] | None:
    """(yes or left_out, the day) that ended a task; None while it is open or was never asked."""
    return next(((a.said, a.day) for a in told(book.answers.get(key, ())) if a.said in ("yes", "left_out")), None)


def _in_and_out(book: Facts, tree: Tree, days: Sequence[Day]) -> Iterator[Task]:
    """In before the cold and out after it, one after the other."""
    year, today = book.year(tree.id), book.today
    limit = book.habits.cold_night_c
    if year is not None:
        # where no night of the year is as warm, the warm part of the summer is
        limit = round(min(limit, max(year.night_c) - COOL_PLACE_K), 1)
    cold = next((d.date for d in days if d.tmin_c < limit), None)
    number = 1
    while (
        _closing(book, f"in-{tree.id}-{number}") is not None and _closing(book, f"out-{tree.id}-{number}") is not None
    ):
        number += 1
    came_in = _closing(book, f"in-{tree.id}-{number}")
    usual = None if year is None else _cools(year, limit, today)
    if came_in is None:
        # what was asked and answered just now is not asked again by the same cold
        before = _closing(book, f"out-{tree.id}-{number - 1}")
        if cold is not None and (usual is None or cold <= later(usual[0], 45)):
            by = "by the forecast" if any(d.date == cold and d.forecast for d in days) else "by your own weather"
            yield made(
                f"in-{tree.id}-{number}", tree.id, "bring_in", later(cold, -1), cold,
                f"Bring it in before the night of {cold:%-d %b}.", f"nights under {limit:g} °C {by}",
            )  # fmt: skip
        elif usual is not None and (before is None or usual[0] > before[1]):
            yield made(
                f"in-{tree.id}-{number}", tree.id, "bring_in", later(usual[0], -MOVE_DAYS), usual[0],
                "Bring it in; begin with the brightest place and water less.", f"nights usually fall under {limit:g} °C",
                f"Two nights under {limit:g} °C.",
            )  # fmt: skip
    else:
        yield made(
            f"in-{tree.id}-{number}", tree.id, "bring_in", came_in[1], came_in[1], "Bring it in.", "as the nights fell"
        )
        # a tree that was left out in the cold needs no way back; one that came in has its first warm night after that day
        usual = None if year is None else _cools(year, limit, max(later(came_in[1], MOVE_DAYS), today))
    if usual is not None:
        out = usual[1]
        yield made(
            f"out-{tree.id}-{number}", tree.id, "bring_out", out, later(out, MOVE_DAYS),
            "Take it out in steps of light: shade first, an hour or two more sun each few days.",
            f"nights usually stay above {limit:g} °C", "Leaves stay firm in the new light.",
        )  # fmt: skip


def _cools(year: Year, cold_c: float, today: date) -> tuple[date, date] | None:
    """(first usual cold night, first warm one after it) from a fortnight ago on; None where nights never cross it."""
    cold = [n < cold_c for n in year.night_c]
    if all(cold) or not any(cold):
        return None
    start = year.day(today)
    order = [(start - MOVE_DAYS + n) % YEAR for n in range(2 * YEAR)]
    at = next((n for n in range(1, YEAR + 1) if cold[order[n]] and not cold[order[n - 1]]), None)
    up = next((n for n in range(1, YEAR + 1) if not cold[order[n]] and cold[order[n - 1]]), None)
    if at is None or up is None:
        return None
    base = later(today, -MOVE_DAYS)
    return later(base, at), later(base, up)


def _rain(days: Sequence[Day], habits: Habits) -> Spell | None:
    """The first spell of rain that is long enough."""
    run: list[Day] = []
    for d in [*days, None]:
        wet = d is not None and (d.rain_mm or 0.0) >= WET_MM
        if wet and d is not None and (not run or (d.date - run[-1].date).days == 1):
            run.append(d)
            continue
        if len(run) >= habits.rain_days:
            return Spell(
                run[0].date, run[-1].date, later(run[-1].date, 1), f"{len(run)} wet days in a row",
                "Shelter it from the rain; the crown above all.", "Its soil is dry again.",
            )  # fmt: skip
        run = [d] if wet and d is not None else []
    return None


def _heat(days: Sequence[Day], habits: Habits) -> Spell | None:
    """The first hot day, and the last before three that are not."""
    hot = [d for d in days if d.tmax_c >= habits.heat_c]
    if not hot:
        return None
    first = hot[0]
    return Spell(
        first.date, later(first.date, SHADE_DAYS), later(_run_end(hot), 1), f"{first.tmax_c:.0f} °C on {first.date:%-d %b}",
        "Half shade from noon on, and look at the soil twice a day.", "The heat is over.",
    )  # fmt: skip


def _frost(days: Sequence[Day], kill_c: float) -> Spell | None:
    """The first night that comes near what its roots bear."""
    least = kill_c + PLAN_K
    cold = [d for d in days if d.tmin_c <= least]
    if not cold:
        return None
    first = cold[0]
    return Spell(
        later(first.date, -1), first.date, later(_run_end(cold), 1),
        f"{first.tmin_c:.0f} °C on {first.date:%-d %b}; its roots are planned for no less than {least:.0f} °C",
        "Keep its roots from freezing through: into the ground, under mulch, or into a frame.", "The cold is over.",
    )  # fmt: skip


def _run_end(days: Sequence[Day]) -> date:
    """The last of days that follow one another with gaps of three at most."""
    end = days[0].date
    for d in days[1:]:
        if (d.date - end).days > SHADE_DAYS:
            break
        end = d.date
    return end
