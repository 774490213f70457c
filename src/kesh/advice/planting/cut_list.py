"""Everything that is cut before the tree is lifted: screens, clips, ties and guys along their bends, rods, and the totals by gauge."""

from collections import Counter
from dataclasses import dataclass

import numpy as np

from kesh.advice.assess import Assessment
from kesh.advice.planting.tie_layout import ROD_OUT_MM, TieWire
from kesh.advice.planting.tie_plan import TiePlan, tie_plan
from kesh.advice.report.whole import cut_list
from kesh.geometry.holes import draining
from kesh.science.stand.hardware import CLIP_WIRE_MM, LAP_MM, Hardware
from kesh.science.stand.tie_hold import rod_diameter_mm
from kesh.science.stand.wire_path import Piece, WireWay

MESHES_MM = (1.0, 1.5, 2.0, 3.0, 4.0, 5.0, 6.0)


@dataclass(frozen=True)
class Screen:
    """One piece of mesh over one hole or, as a single sheet, over all of them; mm."""

    length_mm: float
    width_mm: float
    holes: int


@dataclass(frozen=True)
class ClipCut:
    """Butterfly clips of one length: how many, and their bends."""

    count: int
    way: WireWay


@dataclass(frozen=True)
class Rod:
    """A bamboo rod across the roots; mm."""

    length_mm: float
    diameter_mm: float


@dataclass(frozen=True)
class CutList:
    """Wires each with its bends; `mesh_mm` is the usual mesh that holds the smallest grain; `planned` what is not drilled yet."""

    screens: tuple[Screen, ...]
    sheet: Screen | None
    mesh_mm: float
    clips: tuple[ClipCut, ...]
    ties: tuple[TieWire, ...]
    rods: tuple[Rod, ...]
    plan: TiePlan | None
    planned_drains: bool
    planned_ties: bool

    def totals_m(self) -> dict[tuple[str, float], float]:
        """Metres of wire by (metal, gauge), clips among them."""
        found: dict[tuple[str, float], float] = {}
        for w in self.ties:
            key = (w.metal, w.gauge_mm)
            found[key] = found.get(key, 0.0) + w.length_mm / 1000
        clips = sum(c.count * c.way.cut_mm for c in self.clips) / 1000
        if clips:
            key = ("aluminium", CLIP_WIRE_MM)
            found[key] = found.get(key, 0.0) + clips
        return found

    def totals_words(self) -> str:
        """Metres of wire by gauge, the most first."""
        rows = sorted(self.totals_m().items(), key=lambda row: -row[1])
        return ", ".join(f"{gauge:g} mm {metal} {metres:.2f} m" for (metal, gauge), metres in rows)

    @property
    def screen_sizes(self) -> dict[int, int]:
        """How many screens by the length of their side, mm."""
        return dict(Counter(round(s.length_mm) for s in self.screens))

    @property
    def spare_mm(self) -> float:
        """One more of the longest tie: a wire that is tightened too far breaks."""
        return max((w.length_mm for w in self.ties), default=0.0)

    @property
    def mesh_cm2(self) -> float:
        """Mesh for all screens."""
        return sum(s.length_mm * s.width_mm for s in self.screens) / 100


def clip_way(hole_mm: float, floor_mm: float, cut_mm: float) -> WireWay:
    """The bends of a butterfly clip: leg, loop, span, loop, leg."""
    leg, loop = floor_mm + 1.5 + max(12.0, 0.6 * hole_mm), float(np.pi * 0.6 * hole_mm)
    rows = (("leg", leg), ("loop", loop), ("span", hole_mm), ("loop", loop), ("leg", leg))
    return WireWay(tuple(Piece(kind, mm) for kind, mm in rows), cut_mm)


def cuts_for(a: Assessment, plan: TiePlan | None = None) -> CutList | None:
    """The cut list of one planting; None while the root mass is not known or nothing can be drilled."""
    parts = cut_list(a)
    if parts is None:
        return None
    plan = tie_plan(a) if plan is None else plan
    ties = plan.wires if plan is not None and plan.anchors not in ("none", "stones") else ()
    mesh = next((m for m in reversed(MESHES_MM) if m <= parts.mesh_opening_mm + 1e-9), MESHES_MM[0])
    needs_holes = plan is not None and plan.by_rule and plan.anchors in ("ties", "rods")
    return CutList(
        tuple(Screen(side, side, 1) for side in parts.screens_mm), _one_sheet(a, parts), mesh, _clips(a, parts), ties, _rods(plan), plan,
        parts.planned_drains, parts.planned_ties and needs_holes,
    )  # fmt: skip


def _clips(a: Assessment, parts: Hardware) -> tuple[ClipCut, ...]:
    found: dict[float, tuple[int, WireWay]] = {}
    for side, cut in zip(parts.screens_mm, parts.clip_wire_mm, strict=True):
        n = found[cut][0] if cut in found else 0
        found[cut] = (n + 1, clip_way(side - 2 * LAP_MM, a.pot.floor_mm, cut))
    return tuple(ClipCut(n, way) for n, way in found.values())


def _one_sheet(a: Assessment, parts: Hardware) -> Screen | None:
    """One piece of mesh over all drain holes, lapped as the single screens are; none for a single hole."""
    holes = draining(a.pot)
    if len(holes) < 2 or parts.planned_drains:
        return None
    low = np.array([(h.x_mm - h.diameter_mm / 2, h.y_mm - h.diameter_mm / 2) for h in holes]).min(axis=0) - LAP_MM
    high = np.array([(h.x_mm + h.diameter_mm / 2, h.y_mm + h.diameter_mm / 2) for h in holes]).max(axis=0) + LAP_MM
    return Screen(float(high[0] - low[0]), float(high[1] - low[1]), len(holes))


def _rods(plan: TiePlan | None) -> tuple[Rod, ...]:
    if plan is None or plan.anchors != "rods":
        return ()
    found = []
    for w in plan.wires:
        one, other = np.array(w.over[0]), np.array(w.over[-1])
        pull = max(leg.pull_n for leg in w.legs())
        thick = rod_diameter_mm(pull, ROD_OUT_MM)
        found.append(Rod(float(np.hypot(*(other - one)[:2])) + 20.0, float(np.ceil(max(thick, 4.0)))))
    return tuple(found)
