"""Pots as columns, so that one kernel serves a single pot, a whole shelf and the solver's candidates."""

from collections.abc import Container, Sequence
from dataclasses import dataclass, fields
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from kesh.geometry.outline import Floats, area_form
from kesh.model.pot import Outline, Pot
from kesh.reference.tables import material

# from this many pots on, unusual outlines come from tables and rays instead of polygon offsets
MANY = 50
PROFILES = {"straight": 0, "tube": 1, "bowed": 2, "lip": 3, "table": 4, "slab": 1}


@dataclass(frozen=True, eq=False)
class PotColumns:
    """N pots as arrays of shape (N,), lengths in mm; `form` is (N, 7) as in `area_form`.

    `kinks` (N, K) are heights u where a profile bends or turns back, filled up with 0; between them it is a polynomial
    and monotone. `hole_area` is in mm2; `box` and `ellipse` mark the outlines that have closed forms for everything.
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
    drains: NDArray[np.bool_]
    corner: Floats
    box: NDArray[np.bool_]
    ellipse: NDArray[np.bool_]

    def __len__(self) -> int:
        return len(self.pots)

    def only(self, rows: NDArray[np.bool_]) -> "PotColumns":
        """Some of the pots, without building their columns again."""
        parts = {f.name: getattr(self, f.name)[rows] for f in fields(self) if f.name != "pots"}
        return PotColumns(pots=tuple(p for p, keep in zip(self.pots, rows.tolist(), strict=True) if keep), **parts)


@lru_cache(maxsize=64)
def words_of(pots: PotColumns, name: str) -> tuple[tuple[str, ...], NDArray[np.intp]]:
    """The different words of a field (`finish`, `material`, `state`, `id`), and which of them each pot carries (N,)."""
    kinds: dict[str, int] = {}
    codes = [kinds.setdefault(getattr(pot, name), len(kinds)) for pot in pots.pots]
    return tuple(kinds), np.array(codes, dtype=np.intp)


def carries(pots: PotColumns, name: str, words: Container[str]) -> NDArray[np.bool_]:
    """Whether a field of each pot is one of some words, (N,)."""
    kinds, codes = words_of(pots, name)
    return np.array([word in words for word in kinds], dtype=bool)[codes]


def by_outline(pots: PotColumns, rows: NDArray[np.intp]) -> dict[Outline, NDArray[np.intp]]:
    """Row numbers by outline, so that one outline at many sizes is worked at once."""
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
    """Turn pot records into columns. A long tuple is turned once and kept, so a shelf is ready for the next tree."""
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
    holes = pot.holes
    return (
        pot.length_mm, pot.width_mm, pot.height_mm - pot.feet_mm, pot.floor_mm, pot.wall_mm, pot.feet_mm,
        PROFILES[kind], profile.base_inset_mm, profile.belly_mm, profile.lip_height_share, profile.lip_offset_mm,
        kind == "slab", sum(h.diameter_mm**2 for h in holes) if holes else 0.0,
        max(h.diameter_mm for h in holes) if holes else 0.0,
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
    table = np.array([_row(p) for p in pots], dtype=float).reshape(len(pots), 14)
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
        hole_area=table[:, 12] * np.pi / 4,
        drains=(table[:, 13] >= 8) | slab,
        corner=np.array([p.outline.corner_mm for p in pots], dtype=float),
        box=np.array([p.outline.kind == "rectangle" for p in pots], dtype=bool),
        ellipse=np.array([_is_ellipse(p.outline) for p in pots], dtype=bool),
    )


def densities_kg_l(pots: Sequence[Pot]) -> Floats:
    """Density of each pot's material, kg/l. Raises FieldError for an unknown material."""
    return np.array([material(p.material).density_g_cm3 for p in pots])
