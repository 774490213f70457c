"""The search: many candidates through the one kernel, those that nothing beats, refined, made whole and judged again."""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kesh.advice.assess import Assessment, Finding, assess
from kesh.advice.case import Case
from kesh.advice.design.aims import at_centre, away_from_school, joined_margin
from kesh.advice.design.limit import Limit
from kesh.advice.design.limits import limits, limits_but_roots, root_limit
from kesh.advice.design.space import FREE, Candidates, Space, Wishes, kinds_of
from kesh.advice.figures import Figures, figures_for
from kesh.base.errors import KeshError
from kesh.base.progress import Progress
from kesh.geometry.outline import Floats
from kesh.model import Pot

COUNT, CHUNK, THREADS = 100_000, 12_500, 2
# three half widths off every band nobody would look at it; its roots need not be fitted
FAR_AWAY, OUT_OF_BANDS = 3.0, 1.5
MOST_LISTED, SHOWN = 24, 4
POPULATION, GENERATIONS, NEAREST = 40, 12, 4
NOT_THE_POT = frozenset({"season", "mix_ph"})
WEIGHTS = (0.0, 0.3, 0.7, 1.0)


@dataclass(frozen=True)
class Design:
    """A pot that obeys every limit: how far from the school (0 best) and its margin for roots and water."""

    pot: Pot
    away: float
    margin: float
    kind: int
    free: tuple[float, ...]

    @property
    def looks(self) -> float:
        """0..1, 1 in the middle of every band."""
        return 1 / (1 + self.away)


@dataclass(frozen=True)
class Relax:
    """A limit that stands in the way, and by how much it would have to give."""

    limit: str
    words: str
    by: float
    unit: str


@dataclass(frozen=True, eq=False)
class Solution:
    """Designs that nothing beats, best looks first; the four to look at; what to relax; a sample for the chart."""

    case: Case
    designs: tuple[Design, ...]
    best: tuple[Design, ...]
    relax: tuple[Relax, ...]
    tried: int
    obeying: int
    cloud: Floats
    cloud_kind: NDArray[np.intp]
    cloud_obeys: NDArray[np.bool_]

    def assessment(self, design: Design) -> Assessment:
        """All findings of a design for the tree."""
        return assess(self.case, design.pot)


def spread(count: int, dims: int) -> Floats:
    """Evenly spread points in the unit cube, the same every time: the additive recurrence of the generalised golden ratio.

    Source: Roberts 2018, The unreasonable effectiveness of quasirandom sequences.
    """
    g = 1.5
    for _ in range(40):
        g = (1 + g) ** (1 / (dims + 1))
    steps = g ** -np.arange(1, dims + 1)
    return np.asarray(np.mod(0.5 + np.arange(1, count + 1)[:, None] * steps[None, :], 1.0))


def unbeaten(away: Floats, margin: Floats) -> NDArray[np.intp]:
    """Rows that no other row beats on both sides, by growing distance from the school."""
    order = np.lexsort((-margin, away))
    best, kept = -np.inf, []
    for i in order.tolist():
        if margin[i] > best + 1e-12:
            kept.append(i)
            best = float(margin[i])
    return np.array(kept, dtype=np.intp)


@dataclass(frozen=True, eq=False)
class _Judged:
    """N candidates: how far from the school, their margin, whether they obey, and by how much they break each limit."""

    away: Floats
    margin: Floats
    obeys: NDArray[np.bool_]
    over: dict[str, Floats]
    named: dict[str, Limit]


def _judge(case: Case, wishes: Wishes, made: Candidates, *, all_roots: bool = False) -> _Judged:
    """Roots are fitted last and only where all else is obeyed, unless asked for everywhere."""
    n = len(made.pots)
    f = Figures(case, made.pots)
    found = limits_but_roots(f, wishes)
    obeys = np.ones(n, bool)
    for one in found:
        obeys &= one.obeyed
    margins = [one.margin for one in found if one.grows]
    over, named = {one.code: one.over for one in found}, {one.code: one for one in found}
    away = away_from_school(f)
    rows = np.ones(n, bool) if all_roots else obeys & (away < FAR_AWAY)
    roots = root_limit(Figures(case, made.pots if all_roots else made.pots.only(rows))) if rows.any() else ()
    for one in roots:
        spread_over, spread_margin = np.full(n, np.inf), np.full(n, -1.0)
        spread_over[rows], spread_margin[rows] = one.over, one.margin
        over[one.code], named[one.code] = spread_over, one
        obeys = obeys & (spread_over <= 1e-6)
        margins.append(spread_margin)
    return _Judged(away, joined_margin(margins, n), obeys, over, named)


def solve(
    case: Case, wishes: Wishes | None = None, progress: Progress | None = None, *, count: int = COUNT
) -> Solution:
    """Designs for a tree. The same input gives the same answer.

    Raises FieldError when a measure is missing without which no size can be asked for, StoppedError when stopped.
    """
    wishes, tell = wishes or Wishes(), (progress or Progress()).at
    case = at_centre(case)
    space = Space.of(case, wishes)
    free = spread(count, FREE + 1)
    kind = kinds_of(free[:, FREE])
    free = np.ascontiguousarray(free[:, :FREE])
    chunks = [slice(start, min(start + CHUNK, count)) for start in range(0, count, CHUNK)]
    parts = []
    with ThreadPoolExecutor(THREADS) as pool:
        for k, part in enumerate(pool.map(lambda r: _judge(case, wishes, space.columns(kind[r], free[r])), chunks)):
            parts.append(part)
            tell(0.1 + 0.5 * (k + 1) / len(chunks), "Trying pots")
    away, margin, obeys = (np.concatenate([getattr(p, name) for p in parts]) for name in ("away", "margin", "obeys"))
    sample = np.arange(0, count, max(1, count // 600))
    cloud = np.column_stack([away, margin])[sample]
    chart = (cloud, kind[sample], obeys[sample])
    at = np.flatnonzero(obeys)
    relax: tuple[Relax, ...] = ()
    if len(at):
        front = at[unbeaten(away[at], margin[at])]
        if len(front) > MOST_LISTED:
            front = front[np.unique(np.linspace(0, len(front) - 1, MOST_LISTED).round().astype(int))]
        starts = [(int(kind[i]), free[i]) for i in front]
    else:
        # what obeys may be a sliver between the candidates: look there before saying no
        relax, starts = _in_the_way(space, kind, free)
        if not starts:
            return Solution(case, (), (), relax, count, 0, *chart)
    made = [d for one, place in starts for d in _made(space, one, place)]
    for step, weight in enumerate(WEIGHTS):
        tell(0.62 + 0.36 * step / len(WEIGHTS), "Refining the best")
        one, place = starts[round(weight * (len(starts) - 1))]
        made += _made(space, one, _refined(space, one, place, weight))
    designs = _first(made)
    tell(1.0)
    if not designs and not relax:
        relax = _refused(space, starts) or _in_the_way(space, kind, free)[0]
    return Solution(case, designs, _shown(designs), () if designs else relax, count, len(at), *chart)


def _refined(space: Space, kind: int, place: Floats, weight: float) -> Floats:
    """The best place near one: away from the school against margin, only what obeys."""

    def worth(found: _Judged) -> Floats:
        return np.where(found.obeys, (1 - weight) * found.away - (0.15 + weight) * found.margin, 1e3)

    return _evolved(space, kind, place, worth)


def _evolved(
    space: Space, kind: int, place: Floats, worth: Callable[[_Judged], Floats], *, all_roots: bool = False
) -> Floats:
    """Differential evolution about a place; a whole generation passes the kernel at once. Seeded: always the same."""
    from scipy.optimize import Bounds, differential_evolution

    def value(population: Floats) -> Floats:
        places = np.atleast_2d(population.T)
        made = space.columns(np.full(len(places), kind), places)
        return worth(_judge(space.case, space.wishes, made, all_roots=all_roots))

    start = np.clip(place[None, :] + 0.12 * (spread(POPULATION, FREE) - 0.5), 0, 1)
    start[0] = place
    found = differential_evolution(
        value,  # type: ignore[arg-type]
        Bounds(np.zeros(FREE), np.ones(FREE)), init=start, maxiter=GENERATIONS, polish=False, vectorized=True,
        updating="deferred", rng=np.random.default_rng(1), tol=1e-6,
    )  # fmt: skip
    return np.asarray(found.x)


def _size(limit: Limit) -> float:
    """What a limit's excess is measured against."""
    return max(float(np.median(np.abs(np.asarray(limit.limit, float)))), 1e-6)


def _broken(found: _Judged) -> Floats:
    """How far each candidate is from obeying, as a sum of shares of its limits, (N,)."""
    return np.asarray(sum(over / _size(found.named[code]) for code, over in found.over.items()))


def _in_the_way(
    space: Space, kind: NDArray[np.intp], free: Floats
) -> tuple[tuple[Relax, ...], list[tuple[int, Floats]]]:
    """(what to relax, places that obey after all): the nearest of a fifth of the candidates, brought nearer."""
    kinds, places = kind[::5], free[::5]
    found = _judge(space.case, space.wishes, space.columns(kinds, places), all_roots=True)
    starts = []
    for i in np.argsort(_broken(found), kind="stable")[:NEAREST]:
        one = int(kinds[i])
        place = _evolved(space, one, places[i], _broken, all_roots=True)
        again = _judge(space.case, space.wishes, space.columns(np.array([one]), place[None, :]), all_roots=True)
        if bool(again.obeys[0]):
            starts.append((one, place))
    return _relax(found.over, found.named), starts


def _made(space: Space, kind: int, place: Floats) -> list[Design]:
    """A place made in whole mm, when it still obeys every limit then."""
    try:
        pot = space.pot(kind, place, "design")
    except KeshError:
        return []
    f = figures_for(space.case, [pot])
    found = limits(f, space.wishes)
    if not all(bool(one.obeyed[0]) for one in found) or refusals(assess(space.case, pot)):
        return []
    margin = joined_margin([one.margin for one in found if one.grows], 1)
    return [Design(pot, float(away_from_school(f)[0]), float(margin[0]), kind, tuple(float(v) for v in place))]


def refusals(a: Assessment) -> tuple[Finding, ...]:
    """What says no to a designed pot as such; when to work and what to fill in are no fault of the pot."""
    return tuple(f for f in a.findings if f.status == "no" and f.code not in NOT_THE_POT)


def _refused(space: Space, starts: list[tuple[int, Floats]]) -> tuple[Relax, ...]:
    """What the assessment refuses in pots that obey every limit: it hangs on the tree or its planting."""
    found: dict[str, Relax] = {}
    for kind, place in starts:
        try:
            a = assess(space.case, space.pot(kind, place, "design"))
        except KeshError:
            continue
        for f in refusals(a):
            limits_of = [abs(f.value - v) for v in (f.low, f.high) if f.value is not None and v is not None]
            found.setdefault(f.code, Relax(f.code, f.short, min(limits_of, default=0.0), f.unit))
    return tuple(found.values())


def _first(designs: list[Design]) -> tuple[Design, ...]:
    """Those that nothing beats, each size once, named in turn."""
    seen: dict[tuple[float, ...], Design] = {}
    for one in designs:
        p = one.pot
        seen.setdefault(
            (one.kind, p.length_mm, p.width_mm, p.height_mm, p.profile.base_inset_mm, p.profile.belly_mm), one
        )
    rows = list(seen.values())
    if not rows:
        return ()
    kept = [rows[i] for i in unbeaten(np.array([r.away for r in rows]), np.array([r.margin for r in rows]))]
    return tuple(
        Design(one.pot.changed(id=f"design-{k + 1}"), one.away, one.margin, one.kind, one.free)
        for k, one in enumerate(kept)
    )


def _shown(designs: tuple[Design, ...]) -> tuple[Design, ...]:
    """Four along the curve, from the best looks to the widest margin that is not yet out of all bands."""
    near = [d for d in designs if d.away <= OUT_OF_BANDS] or list(designs[:SHOWN])
    if len(near) <= SHOWN:
        return tuple(near)
    return tuple(near[i] for i in np.linspace(0, len(near) - 1, SHOWN).round().astype(int))


def _relax(over: dict[str, Floats], named: dict[str, Limit]) -> tuple[Relax, ...]:
    """Which limits stand in the way: those that alone would open the way, by the least amount; else the nearest set."""
    table = np.array([over[code] for code in over])
    broken = table > 1e-6
    alone = broken.sum(axis=0) == 1
    found = []
    for k, code in enumerate(over):
        rows = alone & broken[k]
        if rows.any():
            found.append(Relax(code, named[code].words, float(table[k, rows].min()), named[code].unit))
    if found:
        size = {r.limit: r.by / _size(named[r.limit]) for r in found}
        return tuple(sorted(found, key=lambda r: size[r.limit]))
    scale = np.array([_size(named[c]) for c in over])[:, None]
    nearest = int(np.argmin((table / scale).sum(axis=0)))
    return tuple(
        Relax(code, named[code].words, float(table[k, nearest]), named[code].unit)
        for k, code in enumerate(over) if broken[k, nearest]
    )  # fmt: skip
