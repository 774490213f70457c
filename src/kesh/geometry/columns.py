"""Pots as columns, so that one kernel serves a single pot, a whole shelf and the solver's candidates."""

from collections.abc import Callable, Container, Sequence
from dataclasses import dataclass, fields
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from kesh.geometry.outline import Floats, area_form
from kesh.model.pot import Outline, Pot
from kesh.reference.tables import known_material

# from this many pots on, unusual outlines come from tables and rays instead of polygon offsets
MANY = 50
PROFILES = {"straight": 0, "tube": 1, "bowed": 2, "lip": 3, "table": 4, "slab": 1}


@dataclass(frozen=True, eq=False)
class PotColumns:
    """N pots as arrays of shape (N,), lengths in mm; `form` is (N, 7) as in `area_form`.

    `kinks` (N, K) are heights u where a profile bends or turns back, filled up with 0; between them it is a polynomial
    and monotone. `hole_area` is in mm2, set by the solver alone: see `drilled`; `box` and `ellipse` mark the outlines that have closed forms for everything.
    """

    pots: tuple[Pot, ...]
    length: Floats
    width: Floats
    body_height: Floats
    floor: Floats
    wall: Floats
    feet: Floats
    inner_depth: Floats
    profile: NDArray[np.int64]
    base_inset: Floats
    belly: Floats
    lip_at: Floats
    lip_offset: Floats
    form: Floats
    slab: NDArray[np.bool_]
    kinks: Floats
    hole_area: Floats
    corner: Floats
    box: NDArray[np.bool_]
    ellipse: NDArray[np.bool_]
    templates: tuple[Pot, ...] = ()
    which: NDArray[np.intp] | None = None

    def __len__(self) -> int:
        return len(self.pots)

    @property
    def many(self) -> bool:
        """Whether unusual outlines come from tables and rays: a long list, or rows whose records are only templates."""
        return len(self.pots) >= MANY or self.which is not None

    def only(self, rows: NDArray[np.bool_]) -> "PotColumns":
        """Some of the pots, without building their columns again."""
        left = ("pots", "templates", "which")
        parts = {f.name: getattr(self, f.name)[rows] for f in fields(self) if f.name not in left}
        which = None if self.which is None else self.which[rows]
        if which is not None:
            pots = tuple(self.templates[i] for i in which.tolist())
        else:
            pots = tuple(p for p, keep in zip(self.pots, rows.tolist(), strict=True) if keep)
        return PotColumns(pots=pots, templates=self.templates, which=which, **parts)

    def each(self, read: Callable[[Pot], Any]) -> NDArray[Any]:
        """Something of every pot as an array (N,); read once for each template where there are any."""
        if self.which is None:
            return np.array([read(pot) for pot in self.pots])
        return np.array([read(pot) for pot in self.templates])[self.which]


def words_of(pots: PotColumns, name: str) -> tuple[tuple[str, ...], NDArray[np.intp]]:
    """The different words of a field (`finish`, `material`, `state`, `id`), and which of them each pot carries (N,)."""
    return _kept_words(pots, name) if pots.which is None else _words(pots, name)


@lru_cache(maxsize=64)
def _kept_words(pots: PotColumns, name: str) -> tuple[tuple[str, ...], NDArray[np.intp]]:
    return _words(pots, name)


def _words(pots: PotColumns, name: str) -> tuple[tuple[str, ...], NDArray[np.intp]]:
    kinds: dict[str, int] = {}
    codes = pots.each(lambda pot: kinds.setdefault(getattr(pot, name), len(kinds)))
    return tuple(kinds), np.asarray(codes, dtype=np.intp)


def carries(pots: PotColumns, name: str, words: Container[str]) -> NDArray[np.bool_]:
    """Whether a field of each pot is one of some words, (N,)."""
    kinds, codes = words_of(pots, name)
    return np.array([word in words for word in kinds], dtype=bool)[codes]


def by_outline(pots: PotColumns, rows: NDArray[np.intp]) -> dict[Outline, NDArray[np.intp]]:
    """Row numbers by outline, so that one outline at many sizes is worked at once."""
    if pots.which is not None:
        found_rows: dict[Outline, NDArray[np.intp]] = {}
        for k, template in enumerate(pots.templates):
            members = rows[pots.which[rows] == k]
            if len(members):
                held = found_rows.get(template.outline, np.zeros(0, np.intp))
                found_rows[template.outline] = np.concatenate([held, members])
        return found_rows
    found: dict[Outline, list[int]] = {}
    for i in rows.tolist():
        found.setdefault(pots.pots[i].outline, []).append(i)
    return {outline: np.array(members) for outline, members in found.items()}


def _forms(pots: Sequence[Pot]) -> Floats:
    """Area forms of all pots; rectangles, rounds and ellipses at once, the rest one by one from the cache."""
    form = np.empty((len(pots), 7))
    many = len(pots) >= MANY
    ellipses, boxes = [], []
    for i, pot in enumerate(pots):
        outline = pot.outline
        kind = outline.kind
        if kind == "rectangle":
            boxes.append(i)
        elif _is_ellipse(outline):
            ellipses.append(i)
        elif many and kind != "polygon":
            form[i] = 0.0
        else:
            form[i] = area_form(pot.outline, pot.length_mm, pot.width_mm)
    if boxes:
        long = np.array([pots[i].length_mm for i in boxes])
        wide = np.array([pots[i].width_mm for i in boxes])
        r = np.array([pots[i].outline.corner_mm for i in boxes])
        k = np.where(r > 0, 4 - np.pi, 0.0)
        low = np.full_like(r, -1e9)
        rows = [long * wide, 2 * (long + wide), np.full_like(r, 4.0), k, r, low, np.minimum(long, wide) / 2]
        form[boxes] = np.column_stack(rows)
    if ellipses:
        a = np.array([max(pots[i].length_mm, pots[i].width_mm) for i in ellipses]) / 2
        b = np.array([min(pots[i].length_mm, pots[i].width_mm) for i in ellipses]) / 2
        around = ellipse_perimeter_mm(a, b)
        zero = np.zeros_like(a)
        rows = [np.pi * a * b, around, np.full_like(a, np.pi), zero, zero, np.full_like(a, -1e9), 0.98 * b**2 / a]
        form[ellipses] = np.column_stack(rows)
    return form


_KEPT: list[tuple[Sequence[Pot], PotColumns]] = []


def columns(pots: Sequence[Pot]) -> PotColumns:
    """Turn pot records into columns; a pot that cannot be reckoned has some figures too, see `faulty`. A long tuple is turned once and kept, so a shelf is ready for the next tree."""
    if isinstance(pots, tuple) and len(pots) > 50:
        for kept, found in _KEPT:
            if kept is pots:
                return found
        found = _columns(pots)
        _KEPT[:] = [(pots, found), *_KEPT[:2]]
        return found
    return _alone(pots[0]) if len(pots) == 1 else _columns(pots)


@lru_cache(maxsize=256)
def _alone(pot: Pot) -> PotColumns:
    return _columns([pot])


def ellipse_perimeter_mm(a: Floats, b: Floats) -> Floats:
    """Perimeter of ellipses with half axes a, b by the arithmetic-geometric mean; exact to rounding in seven rounds.

    SciPy's elliptic integral says the same; loading it would take a fifth of the time Kesh has to start.
    """
    x, y, power, total = np.asarray(a, dtype=float), np.asarray(b, dtype=float), 1.0, (a**2 + b**2) / 2
    for _ in range(7):
        total = total - power / 2 * ((x - y) ** 2) / 2
        x, y, power = (x + y) / 2, np.sqrt(x * y), power * 2
    return np.asarray(2 * np.pi * total / x)


def _is_ellipse(outline: Outline) -> bool:
    return outline.kind == "round" or (outline.kind == "oval" and outline.exponent == 2)


def _row(pot: Pot) -> tuple[float, ...]:
    profile = pot.profile
    kind = profile.kind
    return (
        pot.length_mm, pot.width_mm, pot.height_mm - pot.feet_mm, pot.floor_mm, pot.wall_mm, pot.feet_mm,
        PROFILES[kind], profile.base_inset_mm, profile.belly_mm, profile.lip_height_share, profile.lip_offset_mm,
        kind == "slab",
    )  # fmt: skip


def _kinks(pots: Sequence[Pot], table: Floats) -> Floats:
    kind, base, belly = table[:, 6], table[:, 7], table[:, 8]
    bowed = (kind == PROFILES["bowed"]) & (np.abs(belly) > 1e-9)
    safe = np.where(bowed, belly, 1.0)
    turn = np.where(bowed, np.clip((1 + base / (4 * safe)) / 2, 0, 1), 0.0)
    first = np.where(kind == PROFILES["lip"], table[:, 9], turn)[:, None]
    listed = np.flatnonzero(kind == PROFILES["table"]).tolist()
    if not listed:
        return first
    most = max(len(pots[i].profile.table) for i in listed)
    found = np.zeros((len(pots), most))
    found[:, :1] = first
    for i in listed:
        heights = [u for u, _ in pots[i].profile.table]
        found[i, : len(heights)] = heights
    return found


def _columns(pots: Sequence[Pot]) -> PotColumns:
    table = np.array([_row(p) for p in pots], dtype=float).reshape(len(pots), 12)
    slab = table[:, 11] > 0
    return PotColumns(
        pots=tuple(pots),
        length=table[:, 0],
        width=table[:, 1],
        body_height=table[:, 2],
        floor=table[:, 3],
        wall=table[:, 4],
        feet=table[:, 5],
        inner_depth=np.where(slab, 0.0, table[:, 2] - table[:, 3]),
        profile=table[:, 6].astype(np.int64),
        base_inset=table[:, 7],
        belly=table[:, 8],
        lip_at=table[:, 9],
        lip_offset=table[:, 10],
        form=_forms(pots),
        slab=slab,
        kinks=_kinks(pots, table),
        hole_area=np.zeros(len(pots)),
        corner=np.array([p.outline.corner_mm for p in pots], dtype=float),
        box=np.array([p.outline.kind == "rectangle" for p in pots], dtype=bool),
        ellipse=np.array([_is_ellipse(p.outline) for p in pots], dtype=bool),
    )


def half_width_of(sides: NDArray[np.intp]) -> Floats:
    """Half the width of regular polygons with a flat side to the front, by their circumradius, (N,)."""
    turn = 2 * np.pi / sides
    first = -np.pi / 2 + turn / 2
    # the corner nearest to the right
    step = np.round(-first / turn)
    return np.asarray(np.cos(first + step * turn))


def sized(
    templates: Sequence[Pot], which: NDArray[np.intp], *, length: Floats, width: Floats, height: Floats, wall: Floats,
    floor: Floats, feet: Floats, base_inset: Floats, lip_offset: Floats, belly: Floats, corner: Floats, hole_area: Floats,
) -> PotColumns:  # fmt: skip
    """N pots of a few kinds at many sizes without N records: `which` (N,) names each row's template, arrays are (N,).

    For rectangles, rounds, ellipses and regular polygons in closed form, lobed outlines by tables; with straight, tube,
    bowed or lip profiles. Everything else stands in the template.
    """
    n = len(which)
    kinds = np.array([PROFILES[t.profile.kind] for t in templates])[which]
    box = np.array([t.outline.kind == "rectangle" for t in templates])[which]
    ellipse = np.array([_is_ellipse(t.outline) for t in templates])[which]
    lip_at = np.array([t.profile.lip_height_share for t in templates])[which]
    form = np.empty((n, 7))
    a, b = np.maximum(length, width) / 2, np.minimum(length, width) / 2
    around, zero, low = ellipse_perimeter_mm(a, b), np.zeros(n), np.full(n, -1e9)
    boxes = [
        length * width,
        2 * (length + width),
        np.full(n, 4.0),
        np.where(corner > 0, 4 - np.pi, 0.0),
        corner,
        low,
        b,
    ]
    ovals = [np.pi * a * b, around, np.full(n, np.pi), zero, zero, low, 0.98 * b**2 / a]
    # a regular polygon as long as it is from corner to corner or side to side; sides of 0 stand for everything else
    sides = np.array([t.outline.sides if t.outline.kind == "polygon" else 0 for t in templates])[which]
    n_sides = np.maximum(sides, 3)
    lost = n_sides * np.tan(np.pi / n_sides)
    apothem = length / 2 * np.cos(np.pi / n_sides) / half_width_of(n_sides)
    regular = [lost * apothem**2, 2 * lost * apothem, lost, zero, zero, low, apothem]
    for k in range(7):
        form[:, k] = np.where(box, boxes[k], np.where(ellipse, ovals[k], np.where(sides > 0, regular[k], 0.0)))
    bowed = (kinds == PROFILES["bowed"]) & (belly > 1e-9)
    turn = np.clip((1 + base_inset / (4 * np.where(bowed, belly, 1.0))) / 2, 0, 1)
    kink = np.where(kinds == PROFILES["lip"], lip_at, np.where(bowed, turn, 0.0))
    return PotColumns(
        pots=tuple(templates[i] for i in which.tolist()), length=length, width=width, body_height=height - feet,
        floor=floor, wall=wall, feet=feet, inner_depth=height - feet - floor, profile=kinds.astype(np.int64),
        base_inset=base_inset, belly=belly, lip_at=lip_at, lip_offset=lip_offset, form=form,
        slab=np.zeros(n, bool), kinks=kink[:, None], hole_area=hole_area,
        corner=np.where(box, corner, 0.0), box=box, ellipse=ellipse,
        templates=tuple(templates), which=which,
    )  # fmt: skip


def densities_kg_l(pots: PotColumns) -> Floats:
    """Density of each pot's material, kg/l; not a number for a material that is not in the table."""
    return pots.each(lambda p: row.density_g_cm3 if (row := known_material(p.material)) else np.nan)
