"""The rock in the hand: its grips, what pulling them makes, and the seat on its top."""

from kesh.advice.kinds.kind import Grip
from kesh.advice.kinds.plan import Setting
from kesh.advice.kinds.rock_drawing import base_mm
from kesh.model import Planting, Pot
from kesh.science.special.rock import half_widths_mm


def seated_mm(planting: Planting, pot: Pot) -> float:
    """How high over the rim a tree's foot stands on top of its rock."""
    rock = planting.rock
    if rock is None:
        return planting.raise_mm
    headspace = 6.0 if planting.headspace_mm is None else planting.headspace_mm
    top = max(z for _, z in rock.points_mm)
    return round(top - rock.sunk_mm - headspace - 0.04 * top, 1)


def seated(planting: Planting, pot: Pot) -> Planting:
    """The planting with the tree's foot on top of its rock."""
    return planting.changed(raise_mm=seated_mm(planting, pot))


def rock_grips(s: Setting) -> list[Grip]:
    """Rock, roots, bindings and outline."""
    rock = s.planting.rock
    if rock is None:
        return []
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


def rock_pulled(s: Setting, what: str, rest: list[str], x_mm: float, y_mm: float) -> Planting:
    """The planting after a grip of the rock was pulled to a place of its view."""
    p, pot, rock = s.planting, s.a.pot, s.planting.rock
    assert rock is not None
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
        return seated(made, pot)
    if what == "loop":
        n = int(rest[0])
        loop = rock.loops[n].changed(z_mm=round(min(max(y_mm - low, 1.0), top - 1.0), 1))
        return p.changed(rock=rock.changed(loops=(*rock.loops[:n], loop, *rock.loops[n + 1 :])))
    spot = (round(x_mm - rock.x_mm, 1), round(y_mm - low, 1))
    if what == "edge":
        n = int(rest[0])
        made = p.changed(rock=rock.changed(points_mm=(*rock.points_mm[:n], spot, *rock.points_mm[n + 1 :])))
        return seated(made, pot)
    n, k = int(rest[0]), int(rest[1])
    root = rock.roots[n]
    moved = root.changed(points_mm=(*root.points_mm[:k], spot, *root.points_mm[k + 1 :]))
    return p.changed(rock=rock.changed(roots=(*rock.roots[:n], moved, *rock.roots[n + 1 :])))
