"""The views on root work without a window: what can be chosen, and what the choice changes for this tree in this pot."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from kesh.advice.assess import Assessment
from kesh.advice.roots.views import bears
from kesh.advice.roots.work import foliage_with_it, plan_limit, sawn, work
from kesh.model import RootViews
from kesh.science.roots.time import minutes_words


@dataclass(frozen=True)
class ViewRow:
    """One topic: the field it is kept in, its words, and the sides by key."""

    field: str
    label: str
    sides: Mapping[str, str]


ROWS = (
    ViewRow("amount", "Roots at once", {
        "stages": "in stages", "half": "half of it", "saw": "a flat saw cut", "all": "all, as of a cutting", "nothing": "nothing now",
    }),
    ViewRow("old_soil", "Old soil", {"usual": "as it comes off", "wash": "washed out", "sides": "two sides in turn"}),
    ViewRow("tool", "Tool", {"chopstick": "chopstick", "rake": "rake and hook"}),
    ViewRow("seal", "Cuts", {"open": "left open", "seal": "sealed with paste"}),
    ViewRow("plate", "Surface roots", {"school": "as the school", "radial": "a radial plate", "irregular": "irregular"}),
    ViewRow("top_work", "Top work", {"apart": "another season", "same_day": "the same day"}),
)  # fmt: skip


def chosen(views: RootViews, field: str) -> str:
    """Which side of a topic is chosen."""
    return ("seal" if views.seal else "open") if field == "seal" else str(getattr(views, field))


def with_side(views: RootViews, field: str, key: str) -> RootViews:
    """The views with another side of a topic."""
    return views.changed(**{field: key == "seal" if field == "seal" else key})


def changes_words(a: Assessment, today: date) -> str:
    """What the views change here, in a few sentences."""
    views, species, limit = a.case.brief.root_views, a.case.species, plan_limit(a.figures)
    name = species.common_name if species else "this tree"
    told = []
    if limit is not None and species is not None:
        if views.amount == "nothing":
            told.append("Nothing is cut: the same pot, or the pot alone, are good answers.")
        elif not bears(species, views):
            side = ROWS[0].sides[views.amount]
            told.append(f"{name} does not usually bear {side}; its own {limit:.0%} stays.")
        elif views.amount != "stages":
            told.append(f"Up to {limit:.0%} of the feeders in one repotting.")
    cut_cm2, below_l = sawn(a.figures)
    if cut_cm2 > 0:
        told.append(f"The saw goes through {cut_cm2:.0f} cm² and takes {below_l:.1f} l.")
    effort = work(a.figures)
    if views.old_soil == "wash" and effort is not None:
        told.append(f"Washing takes about {minutes_words(effort.wash)} more with bare roots.")
        if species is not None and species.bare_root_ok == "no":
            told.append(f"{name} is not bare-rooted: it misses what lives in its old soil.")
    elif views.old_soil == "sides":
        year = today.year + round(a.case.care.interval_years)
        told.append(f"Left and right keep their soil now, front and back in {year}.")
    foliage = foliage_with_it(a.figures)
    if foliage is not None:
        told.append(f"In balance: about {foliage:.0%} of the foliage comes off the same day.")
    if views.plate == "irregular":
        told.append("What rises or crosses is no fault of its own.")
    return " ".join(told) or "Within the species' own limit; prune and wire the top in another season."
