"""What is to be said of one tree's log: how full its pot is against the plan, what went otherwise than planned, strain, what is unknown."""

from kesh.advice.assess import Finding
from kesh.advice.season.lessons import last_planned, pairs
from kesh.advice.season.life import Life
from kesh.base.status import gravest_first
from kesh.science.roots.filling import BOUND, DAYS_YEAR
from kesh.science.season.days import later
from kesh.science.season.season import MONTHS

# growth says nothing of years beyond
FARTHEST_YEARS = 15


def life_findings(life: Life) -> tuple[Finding, ...]:
    """All of them, gravest first."""
    found = [*_full(life), *_otherwise(life), *_strain(life), *_measures(life), *_grows_over(life)]
    return gravest_first(found)


def _said(
    code: str,
    status: str,
    text: str,
    remedy: str = "",
    value: float | None = None,
    unit: str = "",
    high: float | None = None,
) -> Finding:
    return Finding(code, status, value, unit, None, high, text, remedy, "the log")


def _full(life: Life) -> list[Finding]:
    due = life.book.dues[life.tree.id]
    if due.fill is None or due.by_fill is None:
        return [
            _said(
                "full",
                "unknown",
                f"How full of roots the pot is cannot be told: {due.unknown or 'its crown is not measured'}.",
                "Write it down, and it is told from the next look on.",
            )
        ]
    high = due.by_years[1] if due.by_years is not None else None
    when = f"{MONTHS[due.by_fill.month - 1]} {due.by_fill.year}"
    assumed = f" {due.unknown[0].upper()}{due.unknown[1:]}." if due.unknown else ""
    if due.fill >= BOUND:
        return [
            _said(
                "full",
                "watch",
                f"Roots fill the soil: {min(due.fill, 0.95):.0%} or more, {BOUND:.0%} is full.{assumed}",
                "Repot in the coming window; early and healthy is better than late and weak.",
                due.fill,
                "share",
                BOUND,
            )
        ]
    early = high is not None and due.by_years is not None and due.by_fill < due.by_years[0]
    if early and due.by_years is not None:
        return [
            _said(
                "full",
                "watch",
                f"Roots fill {BOUND:.0%} in {when}, before the {due.by_years[0].year} that its kind is usually given.{assumed}",
                "Repot earlier, or give it a larger pot.",
                due.fill,
                "share",
                BOUND,
            )
        ]
    return [
        _said(
            "full",
            "fits",
            f"Roots fill {due.fill:.0%} now, {BOUND:.0%} in {when}.{assumed}",
            "",
            due.fill,
            "share",
            BOUND,
        )
    ]


def _otherwise(life: Life) -> list[Finding]:
    event = last_planned(life.events)
    if event is None:
        return []
    off = [p for p in pairs(life.book.c, event) if not p.as_planned and p.share is not None]
    if not off:
        return [
            _said("as_planned", "fits", f"The repotting of {event.date.isoformat()} went as planned, within a tenth.")
        ]
    worst = max(off, key=lambda p: abs(p.share or 0.0))
    return [
        _said("as_planned", "watch", f"{worst.words}: {worst.shown(worst.done)} {worst.unit}, {worst.shown(worst.planned)} planned.".replace(" .", "."),
              f"{worst.learnt[0].upper()}{worst.learnt[1:]}, {worst.cases}; the next plan counts with it." if worst.learnt else "Plan with it next time.")
    ]  # fmt: skip


def _strain(life: Life) -> list[Finding]:
    book = life.book.ledger(life.tree.id)
    found = []
    if book.unknown:
        found.append(
            _said(
                "strain_unknown",
                "unknown",
                f"{book.unknown[0][0].upper()}{book.unknown[0][1:]}.",
                "Write the share into that entry; until then the strain is at least what is shown.",
            )
        )
    told = f"Strain {100 * book.total:.0f} of {100 * book.limit:.0f}."
    if book.total > book.limit:
        first = book.fits_from(0.0, book.day)
        found.append(
            _said(
                "strain",
                "watch",
                told,
                f"Nothing more before {first.isoformat()}." if first is not None else "Leave it in peace.",
                book.total,
                "share",
                book.limit,
            )
        )
    elif book.total > 0.02:
        found.append(_said("strain", "fits", told, "", book.total, "share", book.limit))
    return found


def _measures(life: Life) -> list[Finding]:
    if life.heights.growth is None:
        return [
            _said(
                "growth",
                "unknown",
                "How fast it grows is not known: it was measured once, or never.",
                "Measure height and trunk again after a season.",
            )
        ]
    if life.heights.growth.n < 3:
        return [
            _said(
                "growth",
                "unknown",
                f"Growth rests on {life.heights.growth.n} measures: no band can be told.",
                "A third measure gives it.",
            )
        ]
    return []


def _grows_over(life: Life) -> list[Finding]:
    """When tree, pot and stand together pass the height that the brief allows; nothing where it sets none."""
    brief, growth, here = life.book.brief(life.tree.id), life.heights.growth, life.book.now.get(life.tree.id)
    cap, pot = brief.limits.show_height_mm, life.book.c.pots.get(here.pot) if here is not None else None
    if cap is None or growth is None or pot is None or not life.heights.points:
        return []
    room = cap - pot.height_mm - brief.stand_mm
    years = growth.reaches(room) if room > 0 else 0.0
    if years is None or years > FARTHEST_YEARS:
        return [
            _said(
                "grows_over",
                "fits",
                f"At this rate it stays under the {cap:.0f} mm of the show table.",
                "",
                None,
                "mm",
                cap,
            )
        ]
    day = later(life.heights.points[-1][0], round(years * DAYS_YEAR))
    soon = (day - life.book.today).days < brief.horizon_years * DAYS_YEAR
    text = (
        f"At this rate tree, pot and stand pass the {cap:.0f} mm of the show table in {max(day, life.book.today).year}."
    )
    return [
        _said(
            "grows_over",
            "watch" if soon else "fits",
            text,
            "A lower pot or stand, or cut the apex back." if soon else "",
            None,
            "mm",
            cap,
        )
    ]
