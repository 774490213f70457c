"""Roots over a rock: ways and bridges, bindings, moss, what the rock weighs and how it stands, five seasons until it is bare."""

from datetime import date

from kesh.advice.assess import Finding
from kesh.advice.kinds.kind import FieldRow, Kind
from kesh.advice.kinds.kinds import KindRow
from kesh.advice.kinds.plan import Figure, Setting, SpecialCut, SpecialPlan, Stage, care, finding, months, nothing_yet
from kesh.advice.kinds.rock_drawing import reaches, rock_above, rock_front
from kesh.advice.kinds.rock_hand import rock_grips, rock_pulled, seated
from kesh.advice.kinds.rock_pot import ASKED_ROOM_MM, limits, sizes
from kesh.advice.planting.steps.step import WorkStep
from kesh.advice.planting.steps.step import care as caution
from kesh.base.errors import FieldError
from kesh.base.words import counted
from kesh.figure.overlay import Overlay, Point
from kesh.geometry.outline import outline_points
from kesh.model import Rock, RockLoop, RockRoot, Tree
from kesh.science.season.days import later
from kesh.science.special.rock import (
    IN_SOIL_MM,
    PIN_LEG_MM,
    PIN_WIRE_MM,
    SHOOT_MM,
    TIE_BELOW_TIMES,
    Reach,
    half_widths_mm,
    loop_mm,
    mass_kg,
    moss_pieces,
    pin_wire_mm,
    rock_stand,
    room_to_wall_mm,
    wants_tie,
)

ASKED_TIP_DEG = 20.0
# how much of the moss is left at each look, from the foot up [J]
MOSS_LEFT = (1.0, 1.0, 0.67, 0.34, 0.0)


def rock_for(tree: Tree, spread_mm: float) -> Rock:
    """A rock to begin with, a third as high as the tree, with four roots over it; its shape is drawn by hand afterwards."""
    tall = round(0.45 * (tree.measure.height_mm or 300.0))
    half = round(min(0.3 * spread_mm, 0.8 * tall))
    points = ((-half, 0), (half, 0), (0.92 * half, 0.34 * tall), (0.5 * half, 0.86 * tall), (0.2 * half, tall), (-0.3 * half, 0.97 * tall), (-0.62 * half, 0.7 * tall), (-0.95 * half, 0.28 * tall))  # fmt: skip
    outline = tuple((round(float(x), 1), round(float(z), 1)) for x, z in points)
    sunk = round(0.14 * tall)
    roots = tuple(
        RockRoot(id=str(n + 1), points_mm=way_over(outline, share, sunk), length_mm=None)
        for n, share in enumerate((-0.8, -0.3, 0.25, 0.75))
    )
    loops = tuple(RockLoop(z_mm=round(share * tall), turns=3) for share in (0.35, 0.65))
    return Rock(points_mm=outline, depth_mm=round(1.4 * half), sunk_mm=sunk, roots=roots, loops=loops)


def way_over(points: tuple[Point, ...], share: float, sunk_mm: float, count: int = 6) -> tuple[Point, ...]:
    """A way from the seat down to the soil that keeps at a share of the rock's half width, -1 left edge, 1 right edge."""
    top = max(z for _, z in points)
    found = []
    for k in range(count + 1):
        z = top + (sunk_mm - top) * k / count
        left, right = (float(v) for v in half_widths_mm(points, min(z, top - 0.5)))
        middle, half = (left + right) / 2, (right - left) / 2
        spread = share * min(1.0, 0.25 + 0.85 * k / count)
        found.append((round(middle + spread * half, 1), round(z, 1)))
    return tuple(found)


def make(s: Setting) -> SpecialPlan:
    """The plan of a planting over a rock; without a rock yet one finding says how to begin."""
    rock = s.planting.rock
    if rock is None:
        return nothing_yet(
            "rock",
            "No rock yet",
            "rock",
            "No rock is drawn yet.",
            "Add one: its outline from the front and its depth, then the ways of its roots.",
        )
    u = s.u
    found: list[Finding] = []
    ways = reaches(rock)
    weight = mass_kg(rock.points_mm, rock.depth_mm, rock.density_kg_l)
    tree = s.tree_kg
    short = [(r, one) for r, one in ways if one is not None and not one.covered]
    for r, one in short:
        found.append(finding("rock_root", "watch", f"Root {r.id} has {u.mm(r.length_mm or 0)}, {u.mm(one.asked_mm)} are asked: lead it on over {u.mm(one.short_mm)} of moss, with {one.pins} pin{'' if one.pins == 1 else 's'}.", "Or lead it a shorter way.", one.short_mm, "mm", None, 0.0))  # fmt: skip
    unknown = [r.id for r, one in ways if one is None]
    if unknown:
        found.append(
            finding(
                "rock_root_length",
                "unknown",
                f"Length of root {', '.join(unknown)} is not known.",
                "Lay a string along each from the seat to its tip.",
            )
        )
    reached = sum(one is not None and one.covered for _, one in ways)
    if reached and not short and not unknown:
        found.append(finding("rock_root", "fits", f"All {reached} roots reach the soil with {u.mm(IN_SOIL_MM)} in it."))
    ring = outline_points(s.a.pot.outline, s.a.pot.length_mm, s.a.pot.width_mm, s.a.pot.wall_mm)
    room = room_to_wall_mm(rock.points_mm, rock.depth_mm, rock.x_mm, rock.y_mm, rock.sunk_mm, ring)
    status = "no" if room < 0 else "fits" if room >= ASKED_ROOM_MM else "watch"
    text = (
        "The rock does not go into the pot."
        if room < 0
        else f"{u.mm(room)} of mix between rock and wall where it is closest; {u.mm(ASKED_ROOM_MM)} asked."
    )
    found.append(
        finding(
            "rock_room",
            status,
            text,
            "" if status == "fits" else "Turn or move the rock, or take a larger pot.",
            room,
            "mm",
            ASKED_ROOM_MM,
        )
    )
    figures = [
        Figure("Rock", u.kg(weight), tip="from its outline and depth: weigh it"),
        Figure("Sunk", u.mm(rock.sunk_mm)),
    ]
    if tree is not None:
        stands = rock_stand(
            rock.points_mm,
            rock.depth_mm,
            rock.density_kg_l,
            tree,
            s.a.case.tree.measure.height_mm or 0.0,
            rock.sunk_mm,
            rock.held,
        )
        status = "fits" if stands.tip_deg >= ASKED_TIP_DEG else "no"
        found.append(
            finding(
                "rock_tips",
                status,
                f"Rock and tree tip at {stands.tip_deg:.0f}°; {ASKED_TIP_DEG:.0f}° asked.",
                "" if status == "fits" else "Sink it deeper, tie it, or set it on a pin.",
                stands.tip_deg,
                "deg",
                ASKED_TIP_DEG,
            )
        )
        if wants_tie(weight, tree) and rock.held == "free":
            found.append(
                finding(
                    "rock_tied",
                    "watch",
                    f"The rock is {weight / tree:.1f} times the tree; below {TIE_BELOW_TIMES:g} times it is tied.",
                    "Tie it to the floor, or set it on a pin.",
                    weight / tree,
                    "",
                    TIE_BELOW_TIMES,
                )
            )
        else:
            found.append(
                finding(
                    "rock_tied",
                    "fits",
                    f"The rock is {weight / tree:.1f} times the tree{'' if rock.held == 'free' else ', and held'}.",
                )
            )
        figures += [
            Figure("Rock by tree, mass", f"{weight / tree:.1f} times"),
            Figure("Tips at", f"{stands.tip_deg:.0f}°", status),
        ]
    else:
        found.append(
            finding(
                "rock_tips",
                "unknown",
                "How it tips is not known: the tree's mass is not.",
                "Weigh it, or measure height, trunk and reach in step 1.",
            )
        )
    cuts, loops = _cuts(s, rock, ways)
    found += loops
    pins = sum(one.pins for _, one in ways if one is not None)
    top = max(z for _, z in rock.points_mm)
    pieces = moss_pieces(rock.points_mm, rock.depth_mm, rock.sunk_mm, top - 1)
    figures.append(Figure("Moss", f"{pieces} pieces of 50 × 60"))
    title = _title(ways, short, pins, s)
    stages = _stages(s, rock)
    return SpecialPlan(
        "rock", title, tuple(figures), tuple(found), tuple(cuts), stages,
        Overlay(rock_front(s, rock, ways, 1.0, dims=True)), Overlay(rock_above(s, rock, ways)), _care(),
    )  # fmt: skip


def _title(
    ways: tuple[tuple[RockRoot, Reach | None], ...], short: list[tuple[RockRoot, Reach]], pins: int, s: Setting
) -> str:
    reached = sum(one is not None and one.covered for _, one in ways)
    if not ways:
        return "No way of a root is drawn yet"
    told = f"{reached} root{'' if reached == 1 else 's'} reach the soil"
    if short:
        most = max(one.short_mm for _, one in short)
        told += f"; {len(short)} need{'s' if len(short) == 1 else ''} {s.u.mm(most)} of moss"
    return told


def _cuts(
    s: Setting, rock: Rock, ways: tuple[tuple[RockRoot, Reach | None], ...]
) -> tuple[list[SpecialCut], list[Finding]]:
    cuts, found = [], []
    for n, loop in enumerate(rock.loops):
        name = chr(65 + n)
        try:
            total = loop_mm(rock.points_mm, rock.depth_mm, loop.z_mm, loop.turns)
        except FieldError as err:
            found.append(finding("rock_loop", "no", f"Binding {name}: {err.reason}.", "Pull it onto the rock."))
            continue
        girth = (total - 60.0) / loop.turns
        cuts.append(
            SpecialCut(
                name,
                "soft wire over rubber",
                total,
                (girth,) * loop.turns,
                rock.wire_mm,
                "aluminium",
                note=f"{loop.turns} × round the rock at {s.u.mm(loop.z_mm)}, ends twisted",
            )
        )
    pins = sum(one.pins for _, one in ways if one is not None)
    if pins:
        cuts.append(
            SpecialCut(
                "pins",
                "hairpins",
                pin_wire_mm(),
                (PIN_LEG_MM, PIN_LEG_MM),
                PIN_WIRE_MM,
                "aluminium",
                pins,
                "one for every 40 mm of moss bridge",
            )
        )
    return cuts, found  # fmt: skip


def _steps(s: Setting) -> tuple[WorkStep, ...]:
    rock, u = s.planting.rock, s.u
    base = u.mm(s.a.seat.base_mm)
    place, loops, short = "", 0, 0
    weight = None
    if rock is not None:
        place = f"{u.mm(rock.sunk_mm)} of it stand in the soil; {u.mm(abs(rock.x_mm))} {'right' if rock.x_mm >= 0 else 'left'}, {u.mm(abs(rock.y_mm))} {'back' if rock.y_mm >= 0 else 'front'} of the middle."
        loops, weight = len(rock.loops), _weight_kg(rock)
        short = sum(one is not None and not one.covered for _, one in reaches(rock))
    held = {
        "free": "It stands by its own weight.",
        "wires": "Two wires from the drain holes over its foot.",
        "pin": "A steel pin set into a drilled hole in its foot; drill wet, with eye guard.",
    }["free" if rock is None else rock.held]
    found = [
        WorkStep("soak", "soak", "Soak rock and moss overnight", lines=("A dry rock drinks the roots' water.",), minutes=3.0),
        WorkStep("lift", "lift", "Take the tree out of its pot", lines=("Whole, with its longest roots.",), drawing="lift", minutes=5.0),
        WorkStep("wash", "wash", "Wash the roots bare", lines=("A soft jet; keep them under a wet cloth.",), drawing="comb", clock="start", minutes=15.0),
        WorkStep("arrange", "arrange", "Seat the tree on the rock, roots along their ways", "" if rock is None else f"{len(rock.roots)}", "" if rock is None else "roots over the rock", ("Each into its groove, with a thin film of clay; thick ones behind, fine ones to the front.",), minutes=20.0),
        WorkStep("bind", "bind", "Bind the roots" if not loops else f"Bind the roots, {counted(loops, 'binding')}", "" if rock is None else f"{rock.wire_mm:g}", "" if rock is None else "mm soft wire on rubber", ("From the seat down: pressed to the rock, not cut.",), cautions=caution("wire_ends"), minutes=15.0),
        WorkStep("moss", "moss", "Cover the roots with wet moss", lines=("Kept wet until shoots show; it comes off from the top down, by signs.",), clock="end", minutes=15.0),
        WorkStep("base", "base", f"Spread {base} of mix", lines=("Level; the rock is to stand firm on it.",), drawing="coarse", minutes=3.0),
        WorkStep("set", "set", "Set rock and tree" if weight is None else f"Set rock and tree, {u.kg(weight)} of rock", "" if rock is None else u.figure(rock.sunk_mm), "" if rock is None else f"{u.length} deep in the soil", tuple(x for x in (held, place) if x), cautions=caution(*(("heavy_lift",) if (weight or 0) > 10 else ())), minutes=10.0),
    ]  # fmt: skip
    if short:
        found.append(
            WorkStep(
                "bridge",
                "bridge",
                "Bridge what is short with moss",
                lines=(f"{counted(short, 'root')} lead{'s' if short == 1 else ''} on over it, pinned every 40 mm.",),
                minutes=8.0,
            )
        )
    return tuple(found)


def _weight_kg(rock: Rock) -> float | None:
    try:
        return float(rock_stand(rock.points_mm, rock.depth_mm, rock.density_kg_l, 0.0, 0.0, rock.sunk_mm).mass_kg)
    except FieldError:
        return None


def _care() -> tuple:  # type: ignore[type-arg]
    return (
        care("growth_sign", 60, 110, "Look at the shoots: once they are 125 mm long, lift a corner of the moss and look at the roots.", f"Shoots are {SHOOT_MM:.0f} mm long.", "The sign decides, not the date."),
        care("look_closer", 360, 420, "Take the upper third of the moss off where roots are firm and brown.", "Roots are firm and as brown as bark.", "Bare too soon they dry back."),
        care("remoss", 30, 90, "Wet the moss every day; replace what has dried.", "Moss is green."),
    )  # fmt: skip


def _stages(s: Setting, rock: Rock) -> tuple[Stage, ...]:
    start = s.day
    summer = date(start.year, 6, 15) if start.month < 6 else later(start, 90)
    rows = (
        ("Covered", start, "kept wet", MOSS_LEFT[0]), ("First look", summer, f"at {SHOOT_MM:.0f} mm shoots", MOSS_LEFT[1]),
        ("Moss down a third", _march(start, 1), "firm roots only", MOSS_LEFT[2]), ("Two thirds", _june(start, 1), "14 days of shade", MOSS_LEFT[3]),
        ("Bare", _march(start, 2), "roots as brown as bark", MOSS_LEFT[4]),
    )  # fmt: skip
    return tuple(
        Stage(
            title, day, f"{months(day)}, {sign}", sign, Overlay(rock_front(s, rock, reaches(rock), share, dims=False))
        )
        for title, day, sign, share in rows
    )


def _march(day: date, years: int) -> date:
    return date(day.year + years, 3, 20)


def _june(day: date, years: int) -> date:
    return date(day.year + years, 6, 10)


ORDER = ("soak", "lift", "wash", "arrange", "bind", "moss", "base", "set", "bridge", "fill", "water", "carry")
KIND = Kind(
    KindRow("rock", 3, "On a rock", "Its roots go over a rock to the soil: each way is measured against its root, moss bridges what is short, and the rock stands with the tree.", field="rock", styles=("root_over_rock",), off=("depth_band", "visual_mass", "root_depth", "soil_line"), why_off="its roots go down the rock, which is part of the picture"),
    fields=(
        FieldRow("depth_mm", "Depth", "mm", "Front to back where it is widest", blank=False), FieldRow("sunk_mm", "Sunk", "mm", "How much stands in the soil", blank=False),
        FieldRow("x_mm", "Right", "mm", "Of the pot's middle", blank=False), FieldRow("y_mm", "Back", "mm", "Of the pot's middle", blank=False),
        FieldRow("density_kg_l", "Density, kg/l", "number", "2.6 for most stone; lava 1.2, tufa 1.6", blank=False), FieldRow("wire_mm", "Wire", "mm", "Soft wire over rubber", blank=False),
        FieldRow("held", "Held", "choice", options=(("free", "stands free"), ("wires", "tied, two wires"), ("pin", "set on a pin"))),
    ),
    make=make,
    order=ORDER,
    steps=_steps,
    start=lambda tree, pot: rock_for(tree, pot.length_mm),
    grips=rock_grips,
    pull=rock_pulled,
    seats=("sunk_mm", "points_mm"),
    seated=seated,
    links=("root", "loop", "off"),
    sizes=sizes,
    limits=limits,
    keeps_seat=True,
)  # fmt: skip
