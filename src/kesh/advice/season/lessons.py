"""What was planned of a repotting beside what was done, and what the log taught: each with how many cases stand behind it."""

from collections.abc import Sequence
from dataclasses import dataclass

from kesh.advice.planting.soil_batch import SETTLING
from kesh.model import Collection, Event
from kesh.science.season.counting import Count, count, spread
from kesh.science.season.learning import learned

# figure: (words, unit, digits, share of the plan within which it went as planned)
FIGURES = {
    "removed_feeder_share": ("Feeders taken", "%", 0), "soil_l": ("Fresh mix", "l", 1), "used_l": ("Mix used", "l", 1), "raise_mm": ("Roots above the rim", "mm", 0),
    "mound_mm": ("Mound", "mm", 0), "headspace_mm": ("Room to water", "mm", 0), "offset_x_mm": ("Trunk, to the right", "mm", 0), "offset_y_mm": ("Trunk, to the back", "mm", 0),
    "root_depth_mm": ("Root depth left", "mm", 0), "off_bottom_mm": ("Off the bottom", "mm", 0), "wire_m": ("Wire", "m", 1), "wires": ("Wires", "", 0), "minutes": ("Minutes", "min", 0),
}  # fmt: skip
ORDER = tuple(FIGURES)
AS_PLANNED = 0.10


@dataclass(frozen=True)
class Pair:
    """One figure of a repotting: planned, done, how far apart in the unit shown, and what Kesh learnt of it."""

    key: str
    words: str
    unit: str
    planned: float
    done: float
    digits: int
    learnt: str
    cases: str

    @property
    def apart(self) -> float:
        """Done less planned."""
        return self.done - self.planned

    @property
    def share(self) -> float | None:
        """Apart as a share of the plan; None of a plan of nought."""
        return self.apart / abs(self.planned) if self.planned else None

    @property
    def as_planned(self) -> bool:
        """Whether it went as planned, within a tenth."""
        return self.share is None or abs(self.share) <= AS_PLANNED

    def shown(self, value: float) -> str:
        """A value in its unit, shares in per cent."""
        return f"{value:.{self.digits}f}"


def last_planned(log: Sequence[Event]) -> Event | None:
    """The last repotting of which it is known what was planned."""
    return next((e for e in reversed(log) if e.kind == "repotted" and e.planned), None)


def pairs(c: Collection, event: Event) -> tuple[Pair, ...]:
    """Planned beside done, figure by figure; what only one of them has is left out."""
    done = dict(event.figures) | ({"minutes": event.minutes} if event.minutes is not None else {})
    found = []
    for key, planned in event.planned:
        if key not in FIGURES or key not in done or done[key] is None:
            continue
        words, unit, digits = FIGURES[key]
        k = 100.0 if unit == "%" else 1.0
        learnt, cases = taught(c, key)
        found.append(Pair(key, words, unit, k * planned, k * float(done[key] or 0.0), digits, learnt, cases))
    return tuple(sorted(found, key=lambda p: ORDER.index(p.key)))


def ratios(c: Collection, key: str) -> list[float]:
    """Done by planned of one figure over all repottings of the collection."""
    found = []
    for event in c.events:
        planned = dict(event.planned).get(key)
        done = event.minutes if key == "minutes" else dict(event.figures).get(key)
        if event.kind == "repotted" and planned and done is not None and planned > 0:
            found.append(done / planned)
    return found


def taught(c: Collection, key: str) -> tuple[str, str]:
    """(what own cases make of the plain figure, how many there are). A default counts for three cases."""
    if key in ("soil_l", "used_l"):
        cases, prior = list(c.settled), SETTLING
        if not cases:
            return "", ""
        found = learned(prior, cases)
        return f"soil sinks {found.value:.0%}", _cases(cases)
    cases = ratios(c, key)
    if not cases or key not in ("removed_feeder_share", "minutes", "wire_m"):
        return "", ""
    found = learned(1.0, cases)
    who = {"removed_feeder_share": "you take", "minutes": "you take", "wire_m": "you cut"}[key]
    if abs(found.value - 1) < 0.03:
        return f"{who} what is planned", _cases(cases)
    return f"{who} {found.value:.2f} × the plan", _cases(cases)


def _cases(cases: Sequence[float]) -> str:
    band = spread(cases)
    n = f"{len(cases)} case{'' if len(cases) == 1 else 's'}"
    return n if band is None else f"{n}, {band[0]:.2f} to {band[1]:.2f}"


@dataclass(frozen=True)
class Tally:
    """A count in the log: what, of which event, n of N with its interval."""

    event: Event
    words: str
    count: Count


def tallies(log: Sequence[Event]) -> tuple[Tally, ...]:
    """Counts of propagation and experiments; one without its whole is left out, since it says nothing."""
    found = []
    for e in log:
        figures = dict(e.figures)
        of = figures.get("of")
        if not of or of < 1:
            continue
        for key in ("rooted", "alive"):
            low = figures.get(f"{key}_low", figures.get(key))
            high = figures.get(f"{key}_high", figures.get(key))
            if low is not None and high is not None and 0 <= low <= high <= of:
                found.append(Tally(e, key, count(round(low), round(high), round(of))))
    return tuple(found)
