"""For a potter: fired and wet sizes, tolerances, the least depth, holes, clay and glaze."""

from dataclasses import replace

import numpy as np

from kesh.advice.assess import Assessment
from kesh.advice.routes.floor import fall_words, floor_checks
from kesh.advice.routes.job import Check, Item, Job, WorkStep, size_words, warned
from kesh.advice.routes.route import Judge, Route
from kesh.advice.routes.wishes import MakerWishes
from kesh.figure.pot_drawing import hole_rows, pot_drawing
from kesh.geometry.columns import columns
from kesh.geometry.overall import differs, overall_mm
from kesh.geometry.profile import inset_mm
from kesh.geometry.relief import band_words
from kesh.geometry.solid import check_shape
from kesh.geometry.volume import body
from kesh.model import Pot
from kesh.reference.tables import material
from kesh.science.looks.colour_names import colour_words
from kesh.science.making.clay import SampleBar, checked, clay_mass, shrinkage_of
from kesh.science.roots.fit import fit

FIRED = ("stoneware", "earthenware", "porcelain", "terracotta", "raku")
TOLERANCE_SHARE, TOLERANCE_MM = 0.015, 2.0
SPARE_CLAY, GLAZE_L_M2, GLAZE_COATS = 0.15, 0.45, 2
WARP_WALL = 260.0
DRY_DAYS_PER_MM = 1.4
LEAST_DEPTH_MM = 15.0


def least_depth_mm(a: Assessment | None) -> float | None:
    """The inner depth from which on the roots go in with no more cut than the tree bears now, with the layer below them.

    It is sought over pots like this one in all depths, so it may well ask for more than the drawing has. Where no depth
    serves because the sides take too much, it is the depth of the whole root mass. None while the roots are not known.
    """
    if a is None or a.case.roots is None:
        return None
    seat, roots = a.seat, a.case.roots
    whole = roots.depth_mm + seat.base_mm - seat.raise_mm
    limit = a.case.bears_share
    if limit is None or whole <= LEAST_DEPTH_MM:
        return max(whole, LEAST_DEPTH_MM)
    depths = np.arange(LEAST_DEPTH_MM, np.ceil(whole) + 1)
    pots = [a.pot.changed(height_mm=float(d) + a.pot.floor_mm + a.pot.feet_mm, holes=(), bands=()) for d in depths]
    cols = columns(pots)
    share = fit(roots, cols, replace(seat, floor_layer_mm=a.case.base_mm(cols.inner_depth))).removed_feeder_share
    good = np.flatnonzero(share <= limit + 1e-9)
    return float(depths[good[0]]) if len(good) else whole


def inside_mm(pot: Pot) -> tuple[float, float]:
    """Length and width between the walls at the rim."""
    return pot.length_mm - 2 * pot.wall_mm, pot.width_mm - 2 * pot.wall_mm


def _source(bar: SampleBar | None, shrinkage: float | None) -> str:
    """Where the shrinkage comes from."""
    if bar is None:
        return "own test bar" if shrinkage is not None else "usual for this body: fire a bar first"
    parts = "" if bar.drying is None or bar.firing is None else f": {bar.drying:.1%} drying, {bar.firing:.1%} firing"
    return f"own test bar{f' of {bar.on}' if bar.on else ''}{parts}"


def potter_job(
    pot: Pot, a: Assessment | None = None, shrinkage: float | None = None, bar: SampleBar | None = None
) -> Job:
    """The potter's sheet. The clay's own test bar, or a total shrinkage, comes before the usual one of the body.

    Raises FieldError for a material that is not fired, a shrinkage that cannot be, or a hole off the floor.
    """
    check_shape(pot)
    usual = shrinkage_of(pot.material)
    s = bar.total if bar is not None else usual if shrinkage is None else checked(shrinkage)
    k = 1 / (1 - s)
    cols = columns([pot])
    b = body(cols)
    mass = clay_mass(float(b.mass_kg[0]))
    glazed = pot.finish in ("muted_glaze", "bright_glaze", "painted")
    inner = inside_mm(pot)
    whole = overall_mm(pot)
    depth, least = pot.inner_depth_mm, least_depth_mm(a)
    drying = max(5, round(DRY_DAYS_PER_MM * max(pot.wall_mm, pot.floor_mm)))
    facts = [
        ("Fired, at the rim", size_words(pot.length_mm, pot.width_mm, pot.height_mm)),
        ("Fired, inside", size_words(*inner, depth)),
        ("Wet, at the rim", size_words(pot.length_mm * k, pot.width_mm * k, pot.height_mm * k)),
        ("Wet wall, floor", f"{pot.wall_mm * k:.1f}, {pot.floor_mm * k:.1f} mm"),
        *([("Dry, before firing", size_words(*(v * k * (1 - bar.drying) for v in (pot.length_mm, pot.width_mm, pot.height_mm))))]
          if bar is not None and bar.drying is not None else []),
        ("Shrinkage in length", f"{s:.1%}, {_source(bar, shrinkage)}"),
        ("Tolerance", f"± {max(TOLERANCE_MM, TOLERANCE_SHARE * pot.length_mm):.0f} mm outside; inner depth − 0"),
        ("Least inner depth", "as drawn" if least is None else f"{least:.0f} mm, for the roots"),
        *([("Floor falls", fall_words(pot))] if pot.profile.kind != "slab" else []),
        ("Soil to the rim", f"{float(b.inner_volume_l[0]):.1f} l"),
        ("Fired mass, empty", f"{mass.fired_kg:.1f} kg"),
        ("Clay", material(pot.material).name),
        *([("Fired, over all", size_words(*whole))] if differs(pot) else []),
        *band_words(pot),
        ("Finish, colour", f"{pot.finish.replace('_', ' ')}, {colour_words(pot.colour)} ({pot.colour.upper()})"),
    ]  # fmt: skip
    bill = [
        Item("plastic clay", mass.wet_kg * (1 + SPARE_CLAY), "kg", f"{mass.wet_kg:.1f} kg in the pot, the rest trimmed")
    ]
    area_m2 = float(2 * (pot.length_mm + pot.width_mm) * pot.body_height_mm) / 1e6
    if glazed:
        bill.append(
            Item(
                "glaze, ready to use",
                area_m2 * GLAZE_L_M2 * GLAZE_COATS,
                "l",
                "outside and lip; foot and inside stay bare",
            )
        )
    steps = [
        WorkStep("Fire a test bar of the clay: mark 100 mm wet, measure fired, and check the wet sizes with it."),
        WorkStep("Build to the wet sizes; round the inner corner of floor and wall, let the floor fall to the holes."),
        WorkStep("Cut drain and tie holes leather-hard by the map; smooth their rims."),
        WorkStep(
            "Dry slowly and evenly, upside down once it holds, off a flat board.",
            24 * drying,
            "or until it is bone dry",
        ),
        WorkStep("First firing.", 36, "firing and cooling"),
        *([WorkStep("Glaze outside and lip; wipe the feet and keep the inside bare.", 24, "to dry")] if glazed else []),
        WorkStep("Firing to maturity.", 48, "firing and cooling"),
        WorkStep("Measure inner depth, rock it on a flat table, fill it once: every drop must leave by the holes."),
    ]
    return Job(
        "potter", f"{pot.name}: for a potter", pot, tuple(facts), tuple(bill), tuple(steps),
        warned("clay_dust", *(["glaze_raw"] if glazed else []), "kiln_heat"), (*_checks(pot), *_deep_enough(depth, least), *(floor_checks(pot) if pot.profile.kind != "slab" else ())),
        (
            pot_drawing(pot, f"{pot.name}, fired", notes=("All sizes in mm, after firing.",)),
            pot_drawing(pot, f"{pot.name}, wet", k, notes=(f"All sizes in mm, wet: fired / (1 − {s:.3f}).",)),
        ),
        tables=(("Holes", ("Hole", "Place from the middle, fired", "Wet"),
                 tuple((name, fired, wet) for (name, fired), (_, wet) in zip(hole_rows(pot), hole_rows(pot, k), strict=True))),),
    )  # fmt: skip


def _deep_enough(depth: float, least: float | None) -> tuple[Check, ...]:
    """Whether the drawing leaves the roots their depth."""
    if least is None:
        return ()
    if depth + 0.5 < least:
        return (
            Check("made_depth", "no", f"The drawing is {depth:.0f} mm deep inside; the roots ask for {least:.0f} mm."),
        )
    return (Check("made_depth", "fits", f"{depth:.0f} mm inside leave the roots the {least:.0f} mm they ask for."),)


def _checks(pot: Pot) -> tuple[Check, ...]:
    """What experience says of long flat walls, thin walls and insets."""
    found = []
    long = max(pot.length_mm, pot.width_mm)
    # a belt or a lip stiffens a long wall
    flat = pot.outline.kind in ("rectangle", "polygon") and pot.profile.kind in ("straight", "tube") and not pot.bands
    if flat and long - 2 * pot.outline.corner_mm > WARP_WALL and pot.wall_mm < long / 35:
        found.append(
            Check(
                "clay_wall",
                "watch",
                f"A wall of {pot.wall_mm:g} mm along {long:.0f} mm may warp; {long / 35:.0f} mm or a belt would hold it.",
            )
        )
    else:
        found.append(
            Check("clay_wall", "fits", f"A wall of {pot.wall_mm:g} mm holds {long:.0f} mm of length in drying.")
        )
    if pot.floor_mm < pot.wall_mm:
        found.append(
            Check(
                "clay_floor",
                "watch",
                f"The floor of {pot.floor_mm:g} mm is thinner than the wall and dries first: it may crack.",
            )
        )
    top = float(inset_mm(columns([pot]), np.array([[1.0]]))[0, 0])
    under = float(inset_mm(columns([pot]), np.linspace(0, 1, 40)[None, :]).min())
    if top - under > 2:
        found.append(
            Check(
                "clay_mouth",
                "watch",
                f"The mouth stands {top - under:.0f} mm inward of the belly: no mould in one piece.",
            )
        )
    return tuple(found)


def _make(pot: Pot, judge: Judge, w: MakerWishes) -> Job:
    fired = pot if pot.material.startswith(FIRED) else pot.changed(material="stoneware_unglazed")
    return potter_job(fired, judge(fired), w.shrinkage, w.bars.get(fired.material))


ROUTE = Route("potter", 0, "Potter", "For a potter", "Write the potter's sheet", "Clay and glaze", _make)
