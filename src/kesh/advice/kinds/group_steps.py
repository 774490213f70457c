"""The work on several trees in one tray: the tray first, then the main tree, then the others."""

from kesh.advice.kinds.plan import Setting
from kesh.advice.planting.steps.step import WorkStep
from kesh.advice.planting.steps.step import care as caution
from kesh.model import GroupTree

ORDER = (
    "screens",
    "wires",
    "base",
    "hills",
    "apart",
    "main",
    "others",
    "wedge",
    "fill",
    "moss",
    "view",
    "water",
    "carry",
)
LEANS_DEG, MOST_LINES = 4.0, 12


def _place(s: Setting, tree: GroupTree) -> str:
    u, x, y = s.u, tree.x_mm or 0.0, tree.y_mm or 0.0
    return f"{u.mm(abs(x))} {'right' if x >= 0 else 'left'} of the tray's centre, {u.mm(abs(y))} {'behind' if y >= 0 else 'before'} it"


def _size(s: Setting, tree: GroupTree) -> str:
    told = [
        f"Ø {s.u.mm(tree.diameter_mm)}" if tree.diameter_mm else "",
        f"{s.u.mm(tree.height_mm)} high" if tree.height_mm else "",
    ]
    return ", ".join(t for t in told if t) or tree.id


def group_steps(s: Setting) -> tuple[WorkStep, ...]:
    """Base, hills, taking apart, the main tree, the others, wedges, fill, moss, a look from the front."""
    u, tree = s.u, s.a.case.tree
    rows = sorted(
        (t for t in tree.group if t.placed and t.alive),
        key=lambda t: (-(t.diameter_mm or 0.0), -(t.height_mm or 0.0), t.id),
    )
    main, others = (rows[0] if rows else None), rows[1:]
    count = max(len(rows), 2)
    leaning = [t for t in rows if abs(t.lean_deg) >= LEANS_DEG]
    litres = u.litres(float(s.a.figures.fresh_soil_l[0]))
    cut = s.a.case.brief.root_views.amount != "nothing"
    found = [
        WorkStep("base", "base", f"Spread {u.mm(s.a.seat.base_mm)} of mix over the tray", u.figure(s.a.seat.base_mm), u.length, (f"{litres} in all; keep a third back for filling.",), "coarse", minutes=4.0 + 0.5 * float(s.a.figures.fresh_soil_l[0])),
        WorkStep("apart", "apart", "Take the trees apart, root mass by root mass", lines=("Comb from the outside in; roots that have grown together stay together as one.", *(("Flatten each from below: no taproot, a hand's breadth of fine roots.",) if cut else ("Nothing is cut: loosen only what keeps them from standing.",)), "Each into a wet cloth until its turn."), drawing="comb", clock="start", cautions=caution("root_saw") if cut else (), minutes=4.0 + 3.0 * count),
        WorkStep("main", "main", "Plant the main tree first" if main is None else f"Plant the main tree first: {_size(s, main)}", lines=(("Off the centre, a third along, a little to the front: everything else is measured from it.",) if main is None else (f"{_place(s, main)[0].upper()}{_place(s, main)[1:]}.", "Tie it down before the others come.")), drawing="set", minutes=6.0),
        WorkStep("others", "others", "Then the other" if len(others) == 1 else "Then the others, the thick ones first", f"{len(others)}" if others else "", ("tree" if len(others) == 1 else "trees") if others else "", tuple(f"{n}: {_size(s, t)}, {_place(s, t)}" for n, t in enumerate(others[:MOST_LINES], start=2)) or ("By height down to the edges, no three in a line, no two alike side by side.",), "set", minutes=3.0 * max(len(others), 1)),
        WorkStep("fill", "fill", "Fill between them, and work it in", u.figure(s.a.case.headspace_mm), f"{u.length} below the rim is where the soil ends", ("With a thin stick between the root masses; hold each tree while you do.",), "fill", "end", minutes=6.0 + count),
        WorkStep("moss", "moss", "Moss and ground cover", lines=("Low moss in the distance, higher at the front; what stood there before goes back to its place.",), minutes=12.0),
        WorkStep("view", "view", "Look from the front, at the trees' own height", lines=("No trunk hides another, no three stand in line, the outline falls to both sides.", "Now is the last moment to turn one."), minutes=4.0),
        WorkStep("water", "water", "Water with a fine rose", lines=("Slowly, until it is wet through; a stream washes the hills away.",), drawing="water", minutes=6.0),
    ]  # fmt: skip
    if tree.hill:
        high = max((point.height_mm for point in tree.hill), default=0.0)
        found.append(
            WorkStep(
                "hills",
                "hills",
                f"Model the ground, {u.mm(high)} at its highest",
                u.figure(high),
                f"{u.length} at its highest",
                ("Wetted mix; the main tree stands on the highest, slopes run out to the edges.",),
                minutes=8.0,
            )
        )
    if leaning:
        found.append(
            WorkStep(
                "wedge",
                "wedge",
                "Wedge those that lean",
                lines=tuple(f"{_size(s, t)}: {abs(t.lean_deg):.0f}°" for t in leaning[:MOST_LINES]),
                minutes=2.0 * len(leaning),
            )
        )
    return tuple(found)
