"""What can be taken in hand in the drawing of a special planting, and what the planting is after it was pulled."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from kesh.advice.kinds.aerial import leaves_mm
from kesh.advice.kinds.plan import Setting
from kesh.advice.kinds.rock_drawing import base_mm
from kesh.advice.kinds.shared import graft_sector, join_at
from kesh.advice.kinds.tub import stake_end
from kesh.advice.kinds.young import cut_at_mm, stands_deep_mm
from kesh.base.errors import FieldError
from kesh.desk.special import seated_mm
from kesh.model import Planting, Rock
from kesh.science.special.rock import half_widths_mm

Side = Literal["front", "above"]


@dataclass(frozen=True)
class Grip:
    """One handle: in the front view (x, up from the bench) or from above (x, back), mm from the pot's middle."""

    key: str
    label: str
    side: Side
    x_mm: float
    y_mm: float


def grips(s: Setting, kind: str) -> list[Grip]:
    """Every handle of a kind, in the order G walks them."""
    p, pot = s.planting, s.a.pot
    x, foot = s.foot
    if kind == "rock" and p.rock is not None:
        return _rock_grips(s, p.rock)
    if kind == "exposed_root" and p.tube is not None:
        return [Grip("tube:lower", "Soil after the first year", "front", x, pot.height_mm - p.tube.lower_mm_year)]
    if kind == "cascade":
        return [Grip("trunk", "Trunk", "front", x, foot)]
    if kind == "layer" and p.layer is not None:
        under = p.layer.roots_at_mm - cut_at_mm(p.layer)
        return [Grip("layer:cut", "Cut under the roots", "front", x, foot - under)]
    if kind == "cutting" and p.cutting is not None:
        return [Grip("cutting:deep", "How deep it stands", "front", x, s.soil_mm - stands_deep_mm(s, p.cutting))]
    stake = stake_end(s) if kind == "fruit_tub" else None
    if stake is not None:
        return [Grip("tub:stake", "End of the stake", "front", *stake)]
    if kind == "desert" and p.desert is not None:
        return [Grip("desert:soil", "Soil line", "front", x + 0.25 * pot.length_mm, foot + (p.desert.soil_mm or 0.0))]
    if kind == "companion" and p.companion is not None:
        return [
            _ray(s, "companion:from", "Sector, first edge", p.companion.from_deg),
            _ray(s, "companion:to", "Sector, last edge", p.companion.to_deg),
        ]
    if kind == "graft" and p.graft is not None:
        return [
            _ray(s, "graft:at", "Side of the graft", p.graft.azimuth_deg), _ray(s, "graft:edge", "Edge of the sector", graft_sector(p.graft)[1]),
            Grip("graft:join", "Join", "front", *join_at(s, p.graft)),
        ]  # fmt: skip
    if kind == "aerial" and p.aerial is not None:
        start = leaves_mm(s, p.aerial)
        return [
            Grip("aerial:from", "Where it leaves", "front", start, s.soil_mm + p.aerial.from_mm),
            Grip("aerial:out", "Where it lands", "front", start + p.aerial.out_mm, s.soil_mm),
        ]
    if kind == "slab" and p.slab is not None:
        found = [Grip("slab:mound", "Top of the mound", "front", 0.0, pot.height_mm + p.slab.mound_mm)]
        found += [
            Grip(f"slab:thing:{n}", t.name or t.kind, "above", t.x_mm, t.y_mm) for n, t in enumerate(p.slab.things)
        ]
        return found
    return []


def _ray(s: Setting, key: str, label: str, azimuth_deg: float) -> Grip:
    a = np.radians(azimuth_deg)
    reach = 0.36 * min(s.a.pot.length_mm, s.a.pot.width_mm)
    return Grip(
        key,
        label,
        "above",
        s.planting.offset_x_mm - reach * float(np.sin(a)),
        s.planting.offset_y_mm - reach * float(np.cos(a)),
    )


def _rock_grips(s: Setting, rock: Rock) -> list[Grip]:
    low, top = base_mm(s, rock), max(z for _, z in rock.points_mm)
    found = [
        Grip("rock:sunk", "Rock, up and down", "front", rock.x_mm, low + 0.5 * top),
        Grip("rock:at", "Rock in the pot", "above", rock.x_mm, rock.y_mm),
    ]
    for n, root in enumerate(rock.roots):
        if not root.behind:
            found += [
                Grip(f"rock:root:{n}:{k}", f"Root {root.id}, point {k + 1}", "front", rock.x_mm + px, low + pz)
                for k, (px, pz) in enumerate(root.points_mm)
                if k > 0
            ]
    for n, loop in enumerate(rock.loops):
        left, _ = (float(v) for v in half_widths_mm(rock.points_mm, loop.z_mm))
        if left == left:
            found.append(Grip(f"rock:loop:{n}", f"Binding {chr(65 + n)}", "front", rock.x_mm + left, low + loop.z_mm))
    found += [
        Grip(f"rock:edge:{n}", f"Outline, corner {n + 1}", "front", rock.x_mm + px, low + pz)
        for n, (px, pz) in enumerate(rock.points_mm)
        if pz > rock.sunk_mm
    ]
    return found


def pulled(s: Setting, key: str, x_mm: float, y_mm: float) -> Planting:
    """The planting after a grip was pulled to a place of its view. Raises FieldError."""
    p, pot = s.planting, s.a.pot
    kind, what, *rest = key.split(":") if ":" in key else (key, "")
    x, foot = s.foot
    if key == "trunk":
        return p.changed(offset_x_mm=round(x_mm, 1), raise_mm=round(y_mm - pot.height_mm, 1))
    if kind == "rock" and p.rock is not None:
        return _rock_pulled(s, p.rock, what, rest, x_mm, y_mm)
    if kind == "tube" and p.tube is not None:
        return p.changed(tube=p.tube.changed(lower_mm_year=round(max(pot.height_mm - y_mm, 1.0), 1)))
    if kind == "layer" and p.layer is not None:
        return p.changed(
            layer=p.layer.changed(cut_mm=round(min(p.layer.roots_at_mm - (foot - y_mm), p.layer.roots_at_mm), 1))
        )
    if kind == "cutting" and p.cutting is not None:
        return p.changed(cutting=p.cutting.changed(grip_mm=round(max(s.soil_mm - y_mm, 1.0), 1)))
    if kind == "tub" and p.tub is not None:
        return p.changed(tub=p.tub.changed(stake_mm=round(max(y_mm - s.soil_mm, 1.0), 1)))
    if kind == "desert" and p.desert is not None:
        return p.changed(desert=p.desert.changed(soil_mm=round(y_mm - foot, 1)))
    azimuth = round(float(np.degrees(np.arctan2(-(x_mm - x), -(y_mm - p.offset_y_mm)))) % 360, 1)
    if kind == "companion" and p.companion is not None:
        return p.changed(companion=p.companion.changed(**{f"{what}_deg": azimuth}))
    if kind == "graft" and p.graft is not None:
        if what == "join":
            return p.changed(graft=p.graft.changed(height_mm=round(max(y_mm - s.soil_mm, 1.0), 1)))
        if what == "at":
            return p.changed(graft=p.graft.changed(azimuth_deg=azimuth))
        half = abs((azimuth - p.graft.azimuth_deg + 180) % 360 - 180)
        return p.changed(graft=p.graft.changed(half_deg=round(max(half, 2.0), 1)))
    if kind == "aerial" and p.aerial is not None:
        if what == "from":
            return p.changed(aerial=p.aerial.changed(from_mm=round(max(y_mm - s.soil_mm, 5.0), 1)))
        return p.changed(aerial=p.aerial.changed(out_mm=round(x_mm - leaves_mm(s, p.aerial), 1)))
    if kind == "slab" and p.slab is not None:
        if what == "mound":
            return p.changed(slab=p.slab.changed(mound_mm=round(max(y_mm - pot.height_mm, 0.0), 1)))
        n = int(rest[0])
        thing = p.slab.things[n].changed(x_mm=round(x_mm, 1), y_mm=round(y_mm, 1))
        return p.changed(slab=p.slab.changed(things=(*p.slab.things[:n], thing, *p.slab.things[n + 1 :])))
    raise FieldError(key, f"'{key}' is nothing that is moved")


def _rock_pulled(s: Setting, rock: Rock, what: str, rest: list[str], x_mm: float, y_mm: float) -> Planting:
    p, pot = s.planting, s.a.pot
    low, top = base_mm(s, rock), max(z for _, z in rock.points_mm)
    if what == "at":
        return p.changed(
            rock=rock.changed(x_mm=round(x_mm, 1), y_mm=round(y_mm, 1)),
            offset_x_mm=round(p.offset_x_mm + x_mm - rock.x_mm, 1),
            offset_y_mm=round(p.offset_y_mm + y_mm - rock.y_mm, 1),
        )
    if what == "sunk":
        sunk = round(min(max(s.soil_mm - (y_mm - 0.5 * top), 0.0), 0.8 * top), 1)
        made = p.changed(
            rock=rock.changed(sunk_mm=sunk, x_mm=round(x_mm, 1)), offset_x_mm=round(p.offset_x_mm + x_mm - rock.x_mm, 1)
        )
        return made.changed(raise_mm=seated_mm(made, pot))
    if what == "loop":
        n = int(rest[0])
        loop = rock.loops[n].changed(z_mm=round(min(max(y_mm - low, 1.0), top - 1.0), 1))
        return p.changed(rock=rock.changed(loops=(*rock.loops[:n], loop, *rock.loops[n + 1 :])))
    spot = (round(x_mm - rock.x_mm, 1), round(y_mm - low, 1))
    if what == "edge":
        n = int(rest[0])
        made = p.changed(rock=rock.changed(points_mm=(*rock.points_mm[:n], spot, *rock.points_mm[n + 1 :])))
        return made.changed(raise_mm=seated_mm(made, pot))
    n, k = int(rest[0]), int(rest[1])
    root = rock.roots[n]
    moved = root.changed(points_mm=(*root.points_mm[:k], spot, *root.points_mm[k + 1 :]))
    return p.changed(rock=rock.changed(roots=(*rock.roots[:n], moved, *rock.roots[n + 1 :])))
