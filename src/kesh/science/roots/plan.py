"""Which root goes, and when: the most faults mended within what a tree bears in one repotting (docs/methods.md, "which root goes").

All weights are judgement [J]. A root's azimuth runs clockwise from the front, seen from above.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np

from kesh.model.root_map import MapRoot, Sector
from kesh.model.roots import Feeders
from kesh.science.roots.choice import Offer, choose

Action = Literal["keep", "shorten", "remove", "move"]
# share of the feeders that hang on the roots of the map; the rest is the fine mat
ON_ROOTS = 0.7
FAULTS = {"dead": 5.0, "circling": 4.0, "tap": 3.0, "under": 3.0, "crossing": 2.0, "rising": 2.0}
THICK_TIMES, THICK, FRONT_DEG, FRONT = 1.8, 1.5, 12.0, 1.0
LEAST_GAP_DEG = 150.0
MOST_YEARS = 6
# a root is moved by hand no farther than this, and no thicker than this
MOVED_MOST_DEG, STIFF_MM = 30.0, 6.0
WORDS = {
    "dead": "dead", "circling": "circles the trunk", "tap": "taproot", "under": "grows under the trunk",
    "crossing": "crosses another", "rising": "rises above the plate", "thick": "much thicker than the rest",
    "front": "comes straight at the viewer",
}  # fmt: skip


@dataclass(frozen=True)
class RootStep:
    """What is done to one root: the cut `at_mm` from the trunk, in which year, its share of the feeders, and why."""

    root: str
    action: Action
    at_mm: float | None
    year: float
    share: float
    points: float
    why: str


@dataclass(frozen=True)
class RootPlan:
    """The steps of all roots, and what the plan brings; shares and points are those of the first repotting."""

    steps: tuple[RootStep, ...]
    share: float
    points: float
    gap_before_deg: float
    gap_after_deg: float
    unevenness_before: float
    unevenness_after: float
    shares: tuple[float, ...] = ()

    def step(self, root: str) -> RootStep | None:
        """What is done to a root."""
        return next((s for s in self.steps if s.root == root), None)


@dataclass(frozen=True)
class Bounds:
    """What the plan is held to: the limit of one repotting, what the pot takes in each, and the years between them."""

    limit: float
    pot_shares: tuple[float, ...] = (0.0,)
    interval_years: float = 2.0
    feeders: Feeders = "even"
    untouched: tuple[Sector, ...] = ()
    # points of faults that the school sees otherwise
    weights: tuple[tuple[str, float], ...] = ()
    # sectors that are left alone in turn, one set for each repotting and the first again after the last
    turns: tuple[tuple[Sector, ...], ...] = ()

    def pot_share(self, nth: int) -> float:
        """The feeder share that the pot takes in the nth repotting."""
        return self.pot_shares[nth] if nth < len(self.pot_shares) else 0.0

    def untouched_in(self, nth: int) -> tuple[Sector, ...]:
        """The sectors that the nth repotting leaves alone."""
        return (*self.untouched, *(self.turns[nth % len(self.turns)] if self.turns else ()))


def repotting_years(plan: RootPlan) -> tuple[float, ...]:
    """The years in which something is cut, the first first."""
    return tuple(sorted({s.year for s in plan.steps if s.action != "keep"}))


def taken_in_all(shares: Sequence[float]) -> float:
    """What several repottings take together, each of what the one before has left."""
    return 1 - float(np.prod([1 - s for s in shares]))


def largest_gap_deg(azimuths_deg: Sequence[float]) -> float:
    """The largest empty angle between roots, degrees; 360 with one root or none."""
    if len(azimuths_deg) < 2:
        return 360.0
    a = np.sort(np.mod(azimuths_deg, 360.0))
    return float(np.max(np.append(np.diff(a), a[0] + 360.0 - a[-1])))


def unevenness(roots: Sequence[MapRoot]) -> float:
    """|SUM d^2 e^(ia)| / SUM d^2 over roots: 0 when they pull evenly all round, 1 when all lie on one side."""
    if not roots:
        return 0.0
    weight = np.array([r.diameter_mm**2 for r in roots])
    turn = np.exp(1j * np.radians([r.azimuth_deg for r in roots]))
    return float(abs((weight * turn).sum()) / weight.sum())


def beyond(feeders: Feeders, share_of_reach: float) -> float:
    """The part of a root's feeders that lies beyond a cut at this share of its reach."""
    x = min(max(share_of_reach, 0.0), 1.0)
    return {"near_trunk": (1 - x) ** 2, "even": 1 - x, "outside_bottom": 1 - x**2}[feeders]


def feeder_shares(roots: Sequence[MapRoot]) -> dict[str, float]:
    """Each root's share of the tree's feeders by the square of its thickness; dead roots carry none."""
    live = [r for r in roots if r.kind != "dead"]
    total = sum(r.diameter_mm**2 for r in live)
    return {r.id: ON_ROOTS * r.diameter_mm**2 / total if r in live else 0.0 for r in roots} if total else {
        r.id: 0.0 for r in roots
    }  # fmt: skip


def faults_of(root: MapRoot, median_mm: float, weights: Mapping[str, float]) -> dict[str, float]:
    """The faults of a root and the points that mending each earns."""
    times = root.diameter_mm / median_mm
    points: dict[str, float] = {**FAULTS, **weights}
    found: dict[str, float] = {str(root.kind): points.get(root.kind, 0.0) * times}
    if root.diameter_mm > THICK_TIMES * median_mm:
        found["thick"] = points.get("thick", THICK) * times
    if min(root.azimuth_deg, 360 - root.azimuth_deg) <= FRONT_DEG and root.diameter_mm > median_mm:
        found["front"] = points.get("front", FRONT) * times
    return {name: value for name, value in found.items() if value > 0}


def _offers(
    root: MapRoot, median_mm: float, share: float, bounds: Bounds, untouched: Sequence[Sector]
) -> list[tuple[Offer, str]]:  # fmt: skip
    """What may be done to a root beside keeping it, each with its reason."""
    if why_kept(root, untouched):
        return []
    faults = faults_of(root, median_mm, dict(bounds.weights))
    dead = root.kind == "dead"
    found = []
    # what is too thick is only thinned by the cut beyond a side root; what is dead only goes whole
    whole = {name: p for name, p in faults.items() if name != "thick"}
    back = {name: p for name, p in faults.items() if name != "dead"}
    side = root.side_root_at_mm
    if back and side is not None and side < root.reach_mm:
        loss = share * beyond(bounds.feeders, side / root.reach_mm)
        found.append((Offer("shorten", sum(back.values()), loss, leaves=not dead), _why(back)))
    if whole:
        found.append((Offer("remove", sum(whole.values()), 0.0 if dead else share, leaves=False), _why(whole)))
    return found


def _why(faults: Mapping[str, float]) -> str:
    return ", ".join(WORDS[name] for name in faults)


def why_kept(root: MapRoot, untouched: Sequence[Sector]) -> str:
    """Why a root must not be cut, empty when it may be."""
    if root.keep:
        return f"kept: {root.keep}"
    held = next((s for s in untouched if s.holds(root.azimuth_deg)), None)
    return "" if held is None else "in the sector left alone" + (f": {held.why}" if held.why else "")


@lru_cache(maxsize=256)
def root_plan(roots: tuple[MapRoot, ...], bounds: Bounds) -> RootPlan:
    """The plan of a root map: exact for each repotting, the most points within its own budget, the first first.

    R = 1 - (1 - R_pot)(1 - SUM loss) stays within the limit, and the live roots that stay leave no gap over 150
    degrees or over today's, whichever is more. Ties go to the smaller loss, then fewer cuts, then the lower azimuth.
    What the artist has decided is done first and counts; the rest is solved anew around it. Faults and shares are those
    of today's map also in later repottings.
    """
    live = [r for r in roots if r.kind != "dead"]
    median, feeders = _median_mm(roots), feeder_shares(roots)
    left: dict[str, MapRoot] = {r.id: r for r in roots}
    steps = {s.root: s for s in (_decided(r, median, feeders[r.id], bounds) for r in roots) if s is not None}
    for step in steps.values():
        _done(left, step)
    held = [r.azimuth_deg for r in left.values() if r.kind != "dead"]
    most_gap = max(
        LEAST_GAP_DEG, largest_gap_deg([r.azimuth_deg for r in live]), largest_gap_deg(held) if steps else 0.0
    )
    shares, points = [], sum(s.points for s in steps.values())
    for nth in range(len(bounds.pot_shares) + MOST_YEARS):
        loss = sum(s.share for s in steps.values()) if nth == 0 else 0.0
        made = _repotting(list(left.values()), bounds, nth, most_gap, (median, feeders, loss, frozenset(steps)))
        shares.append(1 - (1 - bounds.pot_share(nth)) * (1 - loss - sum(s.share for s in made)))
        points += sum(s.points for s in made) if nth == 0 else 0.0
        for step in made:
            steps[step.root] = step
            _done(left, step)
        # while the pot takes the whole budget, or a side has its turn later, the roots wait for the repottings after it
        if not made and not any(bounds.pot_shares[nth:]) and nth >= len(bounds.turns):
            break
    while len(shares) > 1 and shares[-1] <= 0:
        shares.pop()
    for root in roots:
        steps.setdefault(root.id, RootStep(root.id, "keep", None, 0.0, 0.0, 0.0, _kept(root, median, bounds)))
    after = [r for r in left.values() if r.kind != "dead"]
    return RootPlan(
        tuple(steps[r.id] for r in roots), shares[0], points, largest_gap_deg([r.azimuth_deg for r in live]),
        largest_gap_deg([r.azimuth_deg for r in after]), unevenness(live), unevenness(after), tuple(shares),
    )  # fmt: skip


def _done(left: dict[str, MapRoot], step: RootStep) -> None:
    """What a step leaves of the map."""
    root = left[step.root]
    if step.action == "remove":
        del left[step.root]
    elif step.action == "shorten":
        left[step.root] = root.changed(reach_mm=max(step.at_mm or 0.0, 1.0), course=())
    elif step.action == "move" and root.moved_to_deg is not None:
        left[step.root] = root.changed(azimuth_deg=root.moved_to_deg, course=())


def decision_fault(root: MapRoot, untouched: Sequence[Sector] = ()) -> str:
    """Why what was decided for a root cannot be done, empty when it can."""
    held = why_kept(root, untouched)
    if not root.decided or held:
        return held if root.decided else ""
    if root.decided == "shorten" and (root.side_root_at_mm is None or root.side_root_at_mm >= root.reach_mm):
        return "no side root to cut back to"
    if root.decided == "move":
        if root.diameter_mm > STIFF_MM:
            return f"over {STIFF_MM:g} mm it is too stiff to move by hand"
        to = root.azimuth_deg if root.moved_to_deg is None else root.moved_to_deg
        if abs((to - root.azimuth_deg + 180) % 360 - 180) > MOVED_MOST_DEG + 1e-9:
            return f"a root is moved by {MOVED_MOST_DEG:g}° at most"
    return ""


def _decided(root: MapRoot, median_mm: float, share: float, bounds: Bounds) -> RootStep | None:
    """What the artist does to a root whatever the plan would; None where nothing is decided or it cannot be done."""
    if not root.decided or decision_fault(root, bounds.untouched):
        return None
    faults = faults_of(root, median_mm, dict(bounds.weights))
    why = f"the artist's choice{': ' + root.decided_why if root.decided_why else ''}"
    if root.decided == "move":
        to = root.azimuth_deg if root.moved_to_deg is None else root.moved_to_deg
        mended = {
            n: p for n, p in faults.items() if n == "crossing" or (n == "front" and min(to, 360 - to) > FRONT_DEG)
        }
        return RootStep(root.id, "move", None, 0.0, 0.0, sum(mended.values()), f"{why}; moved by hand to {to:.0f}°")
    mended = {n: p for n, p in faults.items() if n != ("dead" if root.decided == "shorten" else "thick")}
    if root.decided == "remove":
        loss = 0.0 if root.kind == "dead" else share
        return RootStep(root.id, "remove", 0.0, 0.0, loss, sum(mended.values()), f"{why}; off at the trunk")
    side = root.side_root_at_mm or 0.0
    loss = share * beyond(bounds.feeders, side / root.reach_mm)
    return RootStep(
        root.id, "shorten", side, 0.0, loss, sum(mended.values()), f"{why}; cut beyond the side root at {side:g} mm"
    )


def _median_mm(roots: Sequence[MapRoot]) -> float:
    live = [r.diameter_mm for r in roots if r.kind != "dead"]
    return float(np.median(live or [r.diameter_mm for r in roots] or [1.0]))


Known = tuple[float, Mapping[str, float], float, frozenset[str]]


def _repotting(roots: Sequence[MapRoot], bounds: Bounds, nth: int, most_gap_deg: float, known: Known) -> list[RootStep]:
    """The steps of one repotting; `known`: median thickness, feeder shares, what is already lost in it, roots done with."""
    if not roots:
        return []
    median, shares, lost, done = known
    free = bounds.untouched_in(nth)
    told = {r.id: [] if r.id in done else _offers(r, median, shares[r.id], bounds, free) for r in roots}
    spare = 1 - (1 - bounds.limit) / max(1 - bounds.pot_share(nth), 1e-9) - lost
    order = sorted(roots, key=lambda r: (r.azimuth_deg, r.id))
    chosen = choose(
        [r.azimuth_deg for r in order], [r.kind != "dead" for r in order], [[o for o, _ in told[r.id]] for r in order],
        max(spare, 0.0), most_gap_deg,
    )  # fmt: skip
    made = []
    for root, pick in zip(order, chosen, strict=True):
        if pick is None:
            continue
        offer, why = told[root.id][pick]
        cut = offer.action == "shorten"
        where = f"; cut beyond the side root at {root.side_root_at_mm:g} mm" if cut else "; off at the trunk"
        made.append(
            RootStep(root.id, offer.action, root.side_root_at_mm if cut else 0.0, round(nth * bounds.interval_years, 3),
                     offer.loss, offer.points, f"{why}{where}")
        )  # fmt: skip
    return made


def _kept(root: MapRoot, median_mm: float, bounds: Bounds) -> str:
    """Why a root stays as it is."""
    faults = faults_of(root, median_mm, dict(bounds.weights))
    held, fault = why_kept(root, bounds.untouched), decision_fault(root, bounds.untouched)
    if fault:
        return f"decided otherwise, but {fault}"
    if not faults:
        return held or "no fault"
    what = _why(faults)
    if held:
        return f"{what}; {held}"
    if bounds.limit <= 0:
        return f"{what}; nothing may be cut now"
    if set(faults) == {"thick"} and root.side_root_at_mm is None:
        return f"{what}; no side root to cut back to"
    return f"{what}; more than the budget bears, or it would leave too large a gap"
