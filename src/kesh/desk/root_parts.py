"""Pockets and sides left alone without a window: where they lie, what can be pulled on them, and what each pull changes."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal

import numpy as np

from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.geometry.outline import Floats
from kesh.model import Pocket, RootMass, Sector, Tree
from kesh.science.roots.fit import ball_radius
from kesh.science.roots.lines import azimuth_of
from kesh.science.roots.pockets import WORDS, PocketStep, depths_mm, sector_part
from kesh.science.roots.side_room import toward

PartKind = Literal["pocket", "sector"]
MOST_PARTS = {"pocket": 40, "sector": 24}
# a new pocket: so wide, from and to this share of the reach, and the upper part of the depth
NEW_DEG, NEW_SHARE, NEW_DEPTH = 60.0, (0.3, 0.75), 0.6
LEAST_DEG, LEAST_SHARE, LEAST_MM = 2.0, 0.02, 2.0


@dataclass(frozen=True)
class Part:
    """A pocket or a sector by its place in the record."""

    kind: PartKind
    nth: int


@dataclass(frozen=True)
class PartGrip:
    """One edge of a part that can be pulled, and where it lies from above, mm from the trunk's middle."""

    part: Part
    edge: Literal["from", "to", "inner", "outer"]
    x_mm: float
    y_mm: float


def parts_of(roots: RootMass) -> tuple[Part, ...]:
    """All parts, the pockets first."""
    return (
        *(Part("pocket", n) for n in range(len(roots.pockets))),
        *(Part("sector", n) for n in range(len(roots.untouched))),
    )


def record_of(roots: RootMass, part: Part) -> Pocket | Sector | None:
    """The record behind a part, None when it is gone."""
    held: Sequence[Pocket | Sector] = roots.pockets if part.kind == "pocket" else roots.untouched
    return held[part.nth] if part.nth < len(held) else None


def shares_of(one: Pocket | Sector) -> tuple[float, float]:
    """From and to which share of the reach it lies."""
    return (
        (0.0, 1.0)
        if isinstance(one, Sector)
        else (min(one.from_share, one.to_share), max(one.from_share, one.to_share))
    )


def reach_mm(roots: RootMass, azimuths_deg: Floats) -> Floats:
    """How far the mass reaches along azimuths of the tree."""
    way = toward(azimuths_deg)
    return ball_radius(roots, 0.0, 1.0, np.arctan2(way[..., 1], way[..., 0]))


def ring_of(roots: RootMass, one: Pocket | Sector) -> Floats:
    """The outline of a part from above, mm from the trunk's middle (n, 2)."""
    inner, outer = shares_of(one)
    azimuths = one.from_deg + np.linspace(0, one.span_deg, 40)
    far = (toward(azimuths) * reach_mm(roots, azimuths)[:, None]) * outer
    if inner <= 0 and one.span_deg >= 359.9:
        return far
    near = (toward(azimuths) * reach_mm(roots, azimuths)[:, None])[::-1] * inner
    return np.vstack([far, near if inner > 0 else np.zeros((1, 2))])


def middle_of(roots: RootMass, one: Pocket | Sector) -> tuple[float, float]:
    """Where a part is written on, mm from the trunk's middle."""
    inner, outer = shares_of(one)
    azimuth = np.array([one.middle_deg])
    at = toward(azimuth)[0] * reach_mm(roots, azimuth)[0] * (inner + 0.55 * (outer - inner))
    return float(at[0]), float(at[1])


def depths_of(roots: RootMass, one: Pocket | Sector) -> tuple[float, float]:
    """From and to which depth below the top of the mass it lies, mm."""
    return (0.0, roots.depth_mm) if isinstance(one, Sector) else depths_mm(roots, one)


def grips_of(roots: RootMass, part: Part) -> tuple[PartGrip, ...]:
    """What can be pulled on a part from above."""
    one = record_of(roots, part)
    if one is None:
        return ()
    inner, outer = shares_of(one)
    span, found = one.span_deg, []

    def at(edge: Literal["from", "to", "inner", "outer"], azimuth: float, share: float) -> None:
        spot = toward(azimuth) * float(reach_mm(roots, np.array([azimuth]))[0]) * share
        found.append(PartGrip(part, edge, float(spot[0]), float(spot[1])))

    if span < 359.9:
        at("from", one.from_deg, (inner + outer) / 2 if part.kind == "pocket" else 0.86)
        at("to", one.to_deg, (inner + outer) / 2 if part.kind == "pocket" else 0.86)
    if part.kind == "pocket":
        at("inner", one.from_deg + span / 2, inner)
        at("outer", one.from_deg + span / 2, outer)
    return tuple(found)


def holds(roots: RootMass, one: Pocket | Sector, point: tuple[float, float]) -> bool:
    """Whether a place from above lies in a part."""
    spot = np.array(point, float)
    azimuth, far = azimuth_of(spot), float(np.hypot(*spot))
    inner, outer = shares_of(one)
    reach = float(reach_mm(roots, np.array([azimuth]))[0])
    return (azimuth - one.from_deg) % 360 <= one.span_deg and inner * reach <= far <= outer * reach


def _with(tree: Tree, part: Part, one: Pocket | Sector | None) -> Tree:
    """The tree with a part written anew, or taken away with None."""
    roots = tree.roots
    assert roots is not None
    name = "pockets" if part.kind == "pocket" else "untouched"
    held: list[Pocket | Sector] = list(getattr(roots, name))
    held[part.nth : part.nth + 1] = [] if one is None else [one]
    return tree.changed(root_masses=(*tree.root_masses[:-1], roots.changed(**{name: tuple(held)})))


def part_pulled(tree: Tree, grip: PartGrip, point: tuple[float, float]) -> Tree:
    """The tree with an edge of a part pulled to a place from above, mm from the trunk's middle."""
    roots = tree.roots
    one = record_of(roots, grip.part) if roots is not None else None
    if roots is None or one is None:
        return tree
    spot = np.array(point, float)
    if grip.edge in ("from", "to"):
        azimuth = round(azimuth_of(spot)) % 360
        start, end = (azimuth, one.to_deg) if grip.edge == "from" else (one.from_deg, azimuth)
        # an edge does not run past the other
        if (end - start) % 360 < LEAST_DEG:
            return tree
        return _with(tree, grip.part, one.changed(from_deg=float(start) % 360, to_deg=float(end)))
    reach = float(reach_mm(roots, np.array([azimuth_of(spot)]))[0])
    share = float(np.clip(np.hypot(*spot) / max(reach, 1e-9), 0, 1))
    inner, outer = shares_of(one)
    if grip.edge == "inner":
        return _with(tree, grip.part, one.changed(from_share=round(min(share, outer - LEAST_SHARE), 3), to_share=outer))
    return _with(tree, grip.part, one.changed(to_share=round(max(share, inner + LEAST_SHARE), 3), from_share=inner))


def depth_pulled(tree: Tree, part: Part, edge: Literal["top", "bottom"], depth_mm: float) -> Tree:
    """The tree with the upper or lower end of a pocket at a depth below the top of the mass, mm."""
    roots = tree.roots
    one = record_of(roots, part) if roots is not None else None
    if roots is None or not isinstance(one, Pocket):
        return tree
    top, bottom = depths_of(roots, one)
    at = round(min(max(depth_mm, 0.0), roots.depth_mm), 1)
    top, bottom = (min(at, bottom - LEAST_MM), bottom) if edge == "top" else (top, max(at, top + LEAST_MM))
    return _with(tree, part, one.changed(depth_from_mm=max(top, 0.0), depth_to_mm=bottom))


def part_turned(tree: Tree, part: Part, by_deg: float) -> Tree:
    """The tree with a part turned about the trunk."""
    one = record_of(tree.roots, part) if tree.roots is not None else None
    if one is None or one.span_deg >= 359.9:
        return tree
    return _with(tree, part, one.changed(from_deg=(one.from_deg + by_deg) % 360, to_deg=(one.to_deg + by_deg) % 360))


def part_changed(tree: Tree, part: Part, **fields: object) -> Tree:
    """The tree with fields of a part changed. Raises FieldError."""
    one = record_of(tree.roots, part) if tree.roots is not None else None
    return tree if one is None else _with(tree, part, one.changed(**fields))


def without_part(tree: Tree, part: Part) -> Tree:
    """The tree without a part."""
    return tree if tree.roots is None else _with(tree, part, None)


def with_new(tree: Tree, kind: PartKind, azimuth_deg: float) -> tuple[Tree, Part]:
    """(the tree with a new pocket or side left alone about an azimuth, that part). Raises FieldError without a root mass."""
    roots = tree.roots
    if roots is None:
        raise FieldError("roots", "the root mass is not known yet; enter its length, width and depth first")
    held = roots.pockets if kind == "pocket" else roots.untouched
    if len(held) >= MOST_PARTS[kind]:
        raise FieldError("roots", f"{MOST_PARTS[kind]} are as many as a root mass holds; take one away first")
    start, end = (azimuth_deg - NEW_DEG / 2) % 360, (azimuth_deg + NEW_DEG / 2) % 360
    new: Pocket | Sector
    if kind == "pocket":
        new = Pocket(kind="clay", from_deg=start, to_deg=end, from_share=NEW_SHARE[0], to_share=NEW_SHARE[1],
                     depth_to_mm=round(NEW_DEPTH * roots.depth_mm, 1))  # fmt: skip
    else:
        new = Sector(from_deg=start, to_deg=end)
    part = Part(kind, len(held))
    return _with(tree, part, new), part


def pocket_words(step: PocketStep, today: date, u: Units) -> tuple[str, str]:
    """(what a pocket is, what is done with it and when)."""
    counted = "counts for nothing" if step.counted <= 0 else f"{step.counted:.0%} of the feeders"
    when = "now" if step.year == 0 else f"in {today.year + round(step.year)}"
    return f"{WORDS[step.pocket.kind]}, {u.litres(step.part.volume_l)}", f"out {when}, {counted}"


def sector_words(roots: RootMass, sector: Sector) -> tuple[str, str]:
    """(what a sector is, how much of the mass it holds)."""
    part = sector_part(roots, sector)
    return sector.why or "left alone", f"{part.share:.0%} of the mass, {part.feeder_share:.0%} of the feeders stay"
