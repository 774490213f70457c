"""Go, with care, or wait: what seven signs say before a tree is lifted. Custom, not measurement [J]; the tree decides."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from typing import Literal

from kesh.model.signs import SIGNS, Sign

Verdict = Literal["go", "care", "wait"]
# what can be seen for each sign, in the order in which it is offered
ANSWERS: Mapping[str, Mapping[str, str]] = {
    "buds": {"resting": "resting", "swelling": "swelling", "opening": "opening", "in_leaf": "in leaf"},
    "white_tips": {"none": "none", "few": "a few", "many": "many growing"},
    "cut_colour": {"pale": "pale, moist", "brown": "brown, soft"},
    "smell": {"earth": "of earth", "sour": "sour"},
    "wobble": {"firm": "stands firm", "loose": "wobbles"},
    "leaves": {"none": "none now", "firm": "firm", "wilted": "wilted or yellow"},
    "work": {"none": "none lately", "recent": "moved or cut hard within a month"},
}
ASKED = {
    "buds": "Buds", "white_tips": "White root tips", "cut_colour": "Cut root, inside", "smell": "Smell of the soil",
    "wobble": "Trunk, pushed", "leaves": "Leaves", "work": "Other work",
}  # fmt: skip
# an answer holds so many days; many growing tips leave this share of the limit to those who go on
HOLDS_DAYS, TIPS_SHARE = 28, 0.7
ORDER = {"go": 0, "care": 1, "wait": 2}


@dataclass(frozen=True)
class Told:
    """What one sign says."""

    sign: str
    verdict: Verdict
    text: str


@dataclass(frozen=True)
class BeforeLift:
    """The verdict, what each sign says gravest first, what share of the limit is left, and which signs are still open."""

    verdict: Verdict
    told: tuple[Told, ...]
    limit_share: float
    open: tuple[str, ...]
    rot: bool = False


def latest(signs: Iterable[Sign], today: date) -> dict[str, str]:
    """The last answer to each sign that still holds on a day; one without a date holds."""
    found: dict[str, tuple[int, str]] = {}
    for one in signs:
        age = 0 if one.date is None else (today - one.date).days
        if 0 <= age <= HOLDS_DAYS and one.value in ANSWERS.get(one.sign, ()):
            day = 0 if one.date is None else one.date.toordinal()
            if one.sign not in found or day >= found[one.sign][0]:
                found[one.sign] = day, one.value
    return {sign: value for sign, (_, value) in found.items()}


def before_lift(signs: Iterable[Sign], today: date, *, tips_stop: bool = True) -> BeforeLift:
    """What the signs say together. `tips_stop`: the view that growing white tips mean to wait; else to go on with care.

    Rot is taken out whatever else is seen: dead roots count for nothing, and leaving them is the worse.
    """
    seen = latest(signs, today)
    told: list[Told] = []
    share = 1.0

    def say(sign: str, verdict: Verdict, text: str) -> None:
        told.append(Told(sign, verdict, text))

    if "buds" in seen:
        text = {
            "resting": "Buds rest: roots hardly grow yet; fine where frost is over.", "swelling": "Buds swell: the usual moment.",
            "opening": "Buds open: work quickly, cut less.", "in_leaf": "In leaf: what is lost now is missed at once.",
        }[seen["buds"]]  # fmt: skip
        say("buds", "care" if seen["buds"] in ("opening", "in_leaf") else "go", text)
    if seen.get("white_tips") == "many":
        share = TIPS_SHARE if not tips_stop else share
        say("white_tips", "wait" if tips_stop else "care",
            ("Many white tips grow: stop, cover them, wait for the right time." if tips_stop
             else f"Many white tips grow: go on with care, at most {TIPS_SHARE:.0%} of the usual limit.")
            + " Be sure they are the tree's own: a weed's roots are white too.")  # fmt: skip
    elif "white_tips" in seen:
        say("white_tips", "go", "No rush of new roots to lose.")
    rot = seen.get("cut_colour") == "brown" or seen.get("smell") == "sour"
    if rot:
        say(
            "cut_colour",
            "care",
            "Rot is found: take out what is dead whatever the season, down to what is pale and firm.",
        )
    elif "cut_colour" in seen or "smell" in seen:
        say("cut_colour" if "cut_colour" in seen else "smell", "go", "Roots are sound.")
    if "wobble" in seen:
        loose = seen["wobble"] == "loose"
        say("wobble", "care" if loose else "go", "It wobbles: few roots hold it; lift it with its soil, tie it well." if loose
            else "It stands firm on its roots.")  # fmt: skip
    if "leaves" in seen:
        ill = seen["leaves"] == "wilted"
        say("leaves", "wait" if ill and not rot else "care" if ill else "go",
            "Leaves are wilted or yellow: find out why first; it has nothing to spare." if ill else "Leaves say nothing against it.")  # fmt: skip
    if "work" in seen:
        tired = seen["work"] == "recent"
        say("work", "wait" if tired else "go", "Moved or cut hard within a month: one trouble at a time." if tired
            else "It has not been troubled lately.")  # fmt: skip
    worst: Verdict = max((t.verdict for t in told), key=ORDER.__getitem__, default="go")
    if worst == "wait" and rot:
        # rot does not wait
        worst = "care"
    told.sort(key=lambda t: -ORDER[t.verdict])
    return BeforeLift(worst, tuple(told), share, tuple(s for s in SIGNS if s not in seen), rot)
