"""Behind every finding: the rule, what it rests on, how sure it is, and what others would say."""

from dataclasses import dataclass

import numpy as np

from kesh.advice.assess import Assessment
from kesh.advice.rules_year import YEAR_CODES
from kesh.model.units import Units
from kesh.reference.schools import schools
from kesh.science.proportion import bands
from kesh.science.season import MONTHS
from kesh.science.visual_mass import shares


@dataclass(frozen=True)
class Ground:
    """Where a rule comes from: its words, the kind of evidence, how sure, what rivals hold."""

    rule: str
    evidence: str
    sure: str
    other: str = ""


TRADITION, MODEL, HABIT, OWN = "tradition", "computed by a model", "growers' habit", "your own limit"

GROUNDS = {
    "depth_band": Ground(
        "Inner pot depth is judged as a multiple of the trunk's diameter at the place named in the brief.",
        TRADITION,
        "custom, not measurement; exhibitions are full of exceptions",
        "Some keep to the trunk's thickness, some go much shallower for show, some deeper for roots and fruit.",
    ),
    "length_band": Ground(
        "Outer length is judged as a share of height, spread or, for hanging trees, the fall.",
        TRADITION,
        "custom, not measurement",
        "Some leave room to grow into; others hold that slightly too big is a fault.",
    ),
    "width_band": Ground("Width follows from the wanted length.", TRADITION, "custom, not measurement"),
    "visual_mass": Ground(
        "Area times solidity times darkness, pot against tree, from the drawn silhouette; the weights are on show.",
        TRADITION,
        "weights and band are judgement",
        "Rules yield to the eye: keep what pleases and write down why.",
    ),
    "finish": Ground(
        "Glaze or bare clay by kind of tree.",
        TRADITION,
        "taste",
        "One side never glazes under conifers; the other takes any material that serves.",
    ),
    "outline": Ground("Outline from above by style and strength of the tree.", TRADITION, "taste"),
    "bench_length": Ground("The pot's length over all, belly and bands included, against the bench.", OWN, "exact"),
    "doorway": Ground("Tree and pot together against the doorway.", OWN, "exact"),
    "car_height": Ground("Tree and pot together, without a stand, against the car's clear height.", OWN, "exact"),
    "show_height": Ground("Tree, pot and stand together against the height allowed where it is shown.", OWN, "exact"),
    "budget": Ground("Price against the budget; owned pots cost nothing.", OWN, "exact"),
    "pot_state": Ground("A pot that holds another tree, or was put back before.", "the collection", "exact"),
    "switched_off": Ground(
        "What the chosen kind of planting or the purpose does not ask of a pot is not judged.",
        "the kind or the purpose that was chosen",
        "exact; choose another and it is judged again",
    ),
    "record": Ground("What was entered must enclose an inside that can be measured.", "geometry", "exact"),
    "species": Ground("What a species wants is read from its row.", "the species table", "as its row says"),
    "mix": Ground("Water and air are computed from the grains of the mix.", "the substrate table", "as its rows say"),
    "root_mass": Ground("The root mass must be a shape round the trunk.", "geometry", "exact"),
    "school": Ground("A school is a set of rules that ships with Kesh.", "the collection", "exact"),
    "material": Ground("Density and frost are read from the material's row.", "the material table", "exact"),
    "holes": Ground("A hole serves only where it goes through the floor.", "geometry", "exact"),
    "measured_volume": Ground("Water measured against the computed inside.", "measured", "as good as the jug"),
    "measured_mass": Ground("The scale against the computed mass.", "measured", "as good as the scale"),
    "flat_saw": Ground(
        "Whether the species bears a flat cut across the bottom of its roots.",
        HABIT,
        "common ground for pines and other conifers, less so for leaf trees",
        "Some saw every tree flat and win by it; others comb and take sectors over years.",
    ),
    "bare_root": Ground(
        "Whether the species bears having all its old soil washed or combed off at once.",
        HABIT,
        "common ground for pines and junipers, custom elsewhere",
        "One side bare-roots and washes; the other leaves sectors untouched from one repotting to the next.",
    ),
    "root_removal": Ground(
        "Feeders cut off below and beside, against the species' limit times season times health.",
        HABIT,
        "weak as a number, fair as an order between species",
        "Some take half or a flat saw cut at once; others comb selectively over several repottings.",
    ),
    "root_depth": Ground(
        "Depth of the root mass against inner depth plus seat height less the layer below.",
        "measured",
        "as good as the tape",
    ),
    "root_sides": Ground(
        "The root mass against the inner wall with fresh mix all round, at the narrowest level it passes.",
        "measured",
        "as good as the tape; the width of fresh mix is habit",
    ),
    "lift_out": Ground(
        "A wall that leans in above holds the root mass by that much a side.",
        "geometry",
        "exact for the shape entered",
        "Some love an in-turned lip and cut round it; others do not buy it.",
    ),
    "graft": Ground("Soil must stay below the graft.", HABIT, "common ground"),
    "top_roots": Ground(
        "Roots that leave the trunk in the air dry out unless soil or moss covers them.", HABIT, "common ground"
    ),
    "aerial_root": Ground("An aerial root thickens once its tip stands in soil.", HABIT, "common ground"),
    "wound": Ground("Dead or cut wood that stays wet rots.", HABIT, "common ground"),
    "reverse_taper": Ground(
        "A trunk that thickens upward gives too large a figure where it bulges.", "measured", "as good as the reading"
    ),
    "tap_root": Ground(
        "The taproot against the room below the soil line.",
        HABIT,
        "length known only when it was seen",
        "Some take it off at once from a strong tree; others shorten it over several repottings.",
    ),
    "soil_line": Ground(
        "The soil line lies just over the top roots and lets the flare show.",
        HABIT,
        "common ground; exposed roots and rock plantings differ on purpose",
    ),
    "before_lift": Ground(
        "Seven signs seen on the tree within four weeks; the gravest decides, rot is taken out at once.",
        TRADITION,
        "custom, not measurement; the tree decides",
        "Many growing white tips: some stop and wait, some note it and go on with care; the brief holds your view.",
    ),
    "season": Ground(
        "The species' window by months and hemisphere; the sign on the tree comes before the month.",
        HABIT,
        "months are a rough guide",
        "White tips growing: most stop and wait, some note it and go on with care.",
    ),
    "drain_holes": Ground("Hole area as a share of the floor.", HABIT, "custom from 1 to 4 %"),
    "flat_base": Ground("A base that lies flat on the bench shuts its holes.", HABIT, "common ground"),
    "wet_foot": Ground(
        "Hours after a watering until tree and air have used so much that the mix and its lowest third hold the air asked for. "
        "In growth 24 h are usual, up to 48 h are to be watched.",
        MODEL,
        "pore shares ± 0.05, use ± 30 %; the hours are a guide, the limits judgement",
        "Some judge the mix just drained; then no shallow tray is right, and forests in 40 mm of mix are common practice.",
    ),
    "dry_summer": Ground(
        "Share of years that could have been with a day below 15 % of the store, looked at as it is kept.",
        MODEL,
        "use ± 30 %; compare pots and helps by it, it is no forecast",
        "Some water by the clock; most look at the soil and let the finger decide.",
    ),
    "wet_winter": Ground(
        "Days on end at rest with less air than asked for, in a middling year of the place's rain.",
        MODEL,
        "pore shares ± 0.05; five and ten days are judgement",
        "Some let hardy trees stand in the rain all winter, others roof every pot from leaf fall on.",
    ),
    "night_at_risk": Ground(
        "The night of a three-day spell that brings the outer 15 mm of roots to what the species bears, counted in the years.",
        MODEL,
        "± 2 K; the limit is a species' usual figure, new tips bear less",
    ),
    "hot_wall": Ground(
        "Hours over 40 °C 15 mm behind the lit wall on sunny days; over 35 °C roots slow, over 46 °C they die in hours.",
        MODEL,
        "± 2 K; light on the wall and its colour are usual figures",
    ),
    "wet_share": Ground(
        "The zone that stays 85 % full has one height for one mix; shallow pots have more of it.",
        MODEL,
        "height within a factor of 1.5",
        "A coarse layer below: some lay one for safety, others never. How far it lifts the wet zone is not settled.",
    ),
    "watering_days": Ground(
        "Leaf and soil water use in the warmest month against the water roots can reach.",
        MODEL,
        "± 30 % or more; look at the soil, not at the calendar",
    ),
    "mix_ph": Ground(
        "Usual pH of the grains by volume against the species' range.", "tables", "± 0.5; your water counts too"
    ),
    "lift_mass": Ground(
        "Pot, wet mix and tree against the lifting limit at the distance the pot's width forces.",
        "published lifting guidance",
        "a limit for healthy adults; your back decides",
    ),
    "tipping": Ground("Angle at which the centre of gravity passes the edge of the base.", MODEL, "± 3°"),
    "wind": Ground(
        "Gust that tips or slides the planted pot, against the site's gust.", MODEL, "rough; drag of a crown varies"
    ),
    "frost": Ground("Does the material bear frost?", "tables", "good for defined materials"),
}


@dataclass(frozen=True)
class Why:
    """Everything the why panel shows for one finding."""

    title: str
    text: str
    rule: str
    inputs: tuple[tuple[str, str], ...]
    source: str
    evidence: str
    sure: str
    other: str
    schools: tuple[tuple[str, str], ...]
    can_override: bool
    override: str


def why(a: Assessment, code: str, units: Units) -> Why | None:
    """The grounds of one finding with its inputs in the user's units; None for a finding that is not there."""
    finding = a.finding(code)
    if finding is None:
        return None
    ground = GROUNDS[code]
    return Why(
        title=code.replace("_", " ").capitalize(),
        text=f"{finding.text} {finding.remedy}".strip(),
        rule=ground.rule,
        inputs=_inputs(a, code, units),
        source=finding.source,
        evidence=ground.evidence,
        sure=ground.sure,
        other=ground.other,
        schools=_schools(a, code, units),
        can_override=finding.status in ("no", "watch") and not finding.overridden and code not in YEAR_CODES,
        override=finding.overridden,
    )


def _schools(a: Assessment, code: str, u: Units) -> tuple[tuple[str, str], ...]:
    """What every school asks on the same measure."""
    name = {"depth_band": "depth", "length_band": "length", "width_band": "width", "visual_mass": "visual_mass"}.get(
        code
    )
    if name is None:
        return ()
    found = []
    for key, school in schools().items():
        brief = a.case.brief
        band = getattr(bands(a.case.tree, school, brief.purpose.value, brief.trunk_station), name)
        if band.low is None or band.high is None:
            shown = "not measured"
        else:
            shown = u.band(band.low, band.high) if band.unit == "mm" else f"{band.low:.2f}–{band.high:.2f}"
        found.append((school.name + (" (judges)" if key == a.case.school.key else ""), shown))
    return tuple(found)


def _inputs(a: Assessment, code: str, u: Units) -> tuple[tuple[str, str], ...]:
    f, case, pot, m = a.figures, a.case, a.pot, a.case.tree.measure
    found: list[tuple[str, str]] = []
    if code in ("depth_band", "length_band", "width_band"):
        band = getattr(case.bands, code.removesuffix("_band"))
        found.append(("Rule", band.rule))
        found += [(name.capitalize(), "not measured" if mm is None else u.mm(mm)) for name, mm in band.inputs]
        found.append(("Reason", band.reason))
    elif code in ("root_removal", "root_depth", "root_sides") and case.roots is not None:
        r = case.roots
        seen = f", seen {r.seen:%-d %b %Y}" if r.seen else ""
        found.append(("Root mass", f"{u.figure(r.length_mm)} × {u.figure(r.width_mm)} × {u.mm(r.depth_mm)}{seen}"))
        found.append(
            ("Inside", f"{u.mm(pot.inner_depth_mm)} deep; {u.mm(case.seat.floor_layer_mm)} kept below the roots")
        )
        found.append(("Fresh mix at the sides", u.mm(case.seat.clearance_mm)))
        if case.limit_share is not None and case.cut_limit is not None:
            found.append(
                ("Limit", f"{case.cut_limit:.0%} × {case.season} season × {r.health} health = {case.limit_share:.0%}")
            )
    elif code in ("wet_foot", "wet_share", "watering_days") and case.blend is not None:
        mix = case.blend
        found.append(("Mix", case.mix.name if case.mix else ""))
        found.append(("Pores", f"{mix.phi_e:.0%} between grains, {mix.phi_int:.0%} inside them"))
        found.append(("Wet zone", f"{u.mm(mix.wet_zone_mm)} at any depth of this mix"))
        found.append(("Soil depth", u.mm(float(f.soil_depth_mm[0]))))
        hours = f.wet_hours_by_month(f.growing) if code == "wet_foot" and f.plantable[0] else None
        if hours is not None and np.isfinite(hours).all():
            told = ", ".join(f"{MONTHS[m.month - 1]} {h:.0f} h" for m, h in zip(f.growing, hours[:, 0], strict=True))
            found.append(("Air after a watering", told))
        if code == "watering_days" and f.use is not None and f.peak is not None:
            found.append(("Use at the peak", f"{u.litres(float(f.use.demand_l_day[0]))} a day"))
    elif code in ("lift_mass", "tipping", "wind") and f.stand is not None:
        s = f.stand
        found.append(("Wet", u.kg(float(s.mass_wet_kg[0]))))
        found.append(("Dry", u.kg(float(s.mass_dry_kg[0]))))
        found.append(("Centre of gravity", f"{u.mm(float(s.cog_height_mm[0]))} above the bench"))
        assumed = f.tree_body.assumed if f.tree_body else ()
        if assumed:
            found.append(("Assumed", ", ".join(x.removesuffix("_kg").replace("_", " ") for x in assumed)))
    elif code == "visual_mass" and f.tree_weight is not None and f.balance is not None:
        w = case.brief.weights
        leaf = (
            f"leaf {m.canopy_opacity:.2f} as measured"
            if m.canopy_opacity is not None
            else (f"dense leaf {w.dense:.2f}, airy leaf {w.airy:.2f}")
        )
        found.append(("Weights", f"wood {w.wood:.2f}, {leaf}, pot {w.pot:.2f}; dark counts more than pale"))
        words = {"dense": "dense leaf", "airy": "airy leaf"}
        found.append(("Tree's weight", ", ".join(f"{words.get(k, k)} {v:.0%}" for k, v in shares(f.regions).items())))
        if f.bare_ratio is not None and f.visual_ratio is not None:
            found.append(
                ("Through the year", f"{float(f.visual_ratio[0]):.2f} in leaf, {float(f.bare_ratio[0]):.2f} bare")
            )
        balance = float(f.balance[0])
        found.append(("Balance", f"{abs(balance):.0%} of the half length to the {'right' if balance > 0 else 'left'}"))
    elif code == "graft" and m.graft_height_mm is not None:
        found.append(("Graft", u.mm(m.graft_height_mm)))
    return tuple(found)
