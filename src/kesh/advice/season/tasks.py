"""Tasks that nobody wrote down: they follow from windows, root filling, plantings, the log and the weather."""

from collections.abc import Iterable, Iterator
from datetime import date

from kesh.advice.season.aftercare import Done, by_views, care_tasks, steps_after
from kesh.advice.season.asking import CLOSED, after
from kesh.advice.season.facts import Facts
from kesh.advice.season.follows import (
    arrival_tasks,
    holding_tasks,
    interim_tasks,
    made,
    order_tasks,
    stage_tasks,
    tube_tasks,
)
from kesh.advice.season.weather_watch import coming_days, weather_tasks
from kesh.model import Event, Task, Tree
from kesh.reference.notes import SIGNS
from kesh.science.season.days import later
from kesh.science.season.season import Own, coming
from kesh.science.season.windows import Year

# aftercare of older repottings is over
CARE_DAYS = 400
# days from one feed to the next, as the words below say [J]
FEED_EVERY = {"grow_on": 7, "train_roots": 14, "refine": 14, "show": 21, "hold": 30, "cutting": 14, "forest": 14, "cascade": 14, "tube": 14, "rock": 14, "crop": 7, "desert": 30}  # fmt: skip
USUAL_FEED_DAYS = 14
# feed, by what the tree is kept for: how strong, how often [J]
FEED_WORDS = {
    "grow_on": "full strength every week", "train_roots": "full strength every second week", "refine": "half strength every second week",
    "show": "quarter to half strength every third week", "hold": "half strength once a month",
    "cutting": "not before it has rooted, then quarter strength", "forest": "half strength every second week", "cascade": "half strength every second week",
    "tube": "full strength every second week", "rock": "half strength every second week", "crop": "full strength every week until fruit colours",
    "desert": "quarter strength once a month",
}  # fmt: skip


def worked_out(book: Facts) -> Iterator[Task]:
    """All of them. A record that cannot be reckoned brings none and stops no other."""
    c, now = book.c, book.now
    curves = {t: s.filling for t, s in book.standings.items() if s.filling is not None}
    yield from interim_tasks(c, now)
    yield from order_tasks(c)
    yield from holding_tasks(c, now, curves)
    yield from stage_tasks(c)
    yield from tube_tasks(c, now)
    yield from arrival_tasks(c, book.today)
    days = coming_days(c.site.daily if c.site is not None else (), book.today)
    for tree in c.trees.values():
        yield from _repot(book, tree)
        care = tuple(_aftercare(book, tree))
        yield from care
        yield from _feed(book, tree, care)
        yield from weather_tasks(book, tree, days)


def _repot(book: Facts, tree: Tree) -> Iterator[Task]:
    due, window = book.dues[tree.id], book.windows.get(tree.id)
    here = book.now.get(tree.id)
    if here is not None and here.interim_until is not None:
        return
    meant = tree.id in book.planned
    lineup = book.c.lineups.get(tree.id)
    meant = meant or (lineup is not None and lineup.chosen is not None)
    if window is None or not (due.now or meant):
        return
    season = window.season
    if season.first is None or season.last is None or (due.last is not None and due.last >= season.first):
        return
    pot = book.target(tree.id)
    into = f" into {book.c.pots[pot].name}" if pot is not None and (here is None or here.pot != pot) else ""
    species, views = book.species(tree), book.brief(tree.id).season_views
    text = f"Repot{into}."
    if species is not None and species.group == "tropical" and views.leaves == "strip":
        text += " Strip the leaves first, then work the roots."
    if views.top == "same_day":
        text += " Cut the top the same day, in balance with the roots."
    yield made(
        f"repot-{tree.id}-{season.first.year}", tree.id, "repot", season.first, season.last, text,
        due.why or "a pot is chosen", SIGNS.get(season.window, ""), pot=pot,
    )  # fmt: skip


def _aftercare(book: Facts, tree: Tree) -> Iterator[Task]:
    """Steps after the last repotting; those before it ended with it. A step that stands in the records whole stands in for its like."""
    year = book.year(tree.id)
    for event in book.c.events_of(tree.id):
        age = (book.today - event.date).days
        if event.kind != "repotted" or not 0 <= age <= CARE_DAYS or book.ended_by(tree.id, event.id) is not None:
            continue
        care = event_care(book, tree, event, year)
        own = {t.kind for t in book.written.values() if t.event == event.id} - {
            t.kind for t in care if t.id in book.written
        }
        yield from (t for t in care if t.kind not in own)


def event_care(book: Facts, tree: Tree, event: Event, year: Year | None) -> tuple[Task, ...]:
    """What follows one repotting of the log; its share of feeders is nought where nothing was cut, moderate where nobody wrote it down."""
    figures, brief = dict(event.figures), book.brief(tree.id)
    share = figures.get("removed_feeder_share", event.strain if event.strain is not None else UNKNOWN_SHARE)
    bare = bool(figures.get("bare_rooted", brief.root_views.old_soil == "wash"))
    planting = book.now.get(tree.id)
    tied = planting is not None and (bool(planting.ties) or planting.anchors != "none")
    if "wires" in figures:
        tied = figures["wires"] > 0
    rows = by_views(
        steps_after(book.species(tree), Done(share, bare, tied)), brief.season_views, brief.planting_views.feed
    )
    return care_tasks(
        tree.id, event.id, event.date, rows, year.mean_on if year is not None else None, leaves_opened(tree, event.date)
    )


UNKNOWN_SHARE = 0.25


def leaves_opened(tree: Tree, since: date) -> date | None:
    """The first day since a repotting on which leaves were seen to open."""
    days = [
        s.date for s in tree.signs
        if s.sign == "buds" and s.value in ("opening", "in_leaf") and s.date is not None and since <= s.date <= later(since, 200)
    ]  # fmt: skip
    return min(days, default=None)


def feed_days(book: Facts, tree: Tree) -> tuple[date, date] | None:
    """First and last day of feeding in the season that holds or comes next; None without a climate. Found once a species."""
    key = f"feed/{tree.species}/{book.owns[tree.id].housed}"
    if key not in book.kept:
        book.kept[key] = _feed_days(book, tree)
    found = book.kept[key]
    return found if isinstance(found, tuple) else None


def _feed_days(book: Facts, tree: Tree) -> tuple[date, date] | None:
    year, own = (
        book.year(tree.id),
        Own(shelter=book.owns[tree.id].shelter, indoors_below_c=book.owns[tree.id].indoors_below_c),
    )
    species = book.species(tree)
    if year is None or species is None:
        return None
    begins = "after_flowering" if species.flowering_or_fruiting in ("flower", "both") else "mid_spring"
    if species.group in ("tropical", "succulent", "palmlike"):
        begins = "summer_active"
    first = coming(year, begins, later(book.today, -150), own, species)
    if first is None:
        return None
    stop = coming(year, "autumn_ok", first[0], own) or coming(year, "late_summer", first[0], own)
    if begins == "summer_active" and (stop is None or stop[0] < first[1]):
        stop = (first[1], first[1])
    return None if stop is None or stop[0] <= first[0] else (first[0], stop[0])


def _feed(book: Facts, tree: Tree, care: Iterable[Task]) -> Iterator[Task]:
    """One feed after another: each that was given is an occurrence of its own, the next comes as the purpose asks.

    It does not begin while the weeks without feed after a repotting run.
    """
    days = feed_days(book, tree)
    if days is None or days[1] < book.today:
        return
    first, last = days
    pause = [
        t.to
        for t in (after(step, book.answers.get(step.id, ())) for step in care)
        if t.kind == "no_fertiliser" and t.state not in CLOSED and t.to is not None
    ]
    held = max(pause, default=None)
    put_off = held is not None and first < held
    if held is not None:
        first = max(first, held)
    purpose = book.brief(tree.id).purpose.value
    text = f"Feed {FEED_WORDS.get(purpose, 'half strength')}; on a moist pot."
    why = "from growth to the cooling of autumn" + ("; put off by the last repotting" if put_off else "")
    number = 1
    while first <= last:
        key = f"feed-{tree.id}-{days[0].year}-{number}"
        one = made(key, tree.id, "feed", first, last, text, why, "Growth has stopped.")
        yield one
        given = after(one, book.answers.get(key, ()))
        if given.state != "done" or given.asked is None:
            # the next one waits for this one; the season's feeding was left out, or is still to be given
            return
        first, number = max(later(given.asked, FEED_EVERY.get(purpose, USUAL_FEED_DAYS)), first), number + 1
