"""Behind every finding: the rule, what it rests on, how sure it is, and what others would say."""

from dataclasses import dataclass

import numpy as np

from kesh.advice.assess import Assessment, Finding
from kesh.advice.checks import RULES
from kesh.advice.rules.year import YEAR_CODES
from kesh.base.units import Units
from kesh.reference.grounds import ground_of
from kesh.reference.schools import schools
from kesh.science.looks.proportion import bands
from kesh.science.looks.visual_mass import shares
from kesh.science.season.season import MONTHS


@dataclass(frozen=True)
class Why:
    """Everything the why panel shows for one finding."""

    title: str
    text: str
    rule: str
    inputs: tuple[tuple[str, str], ...]
    # words and the room where what it rests on is changed
    changed: tuple[tuple[str, str], ...]
    source: str
    evidence: str
    sure: str
    other: str
    schools: tuple[tuple[str, str], ...]
    can_override: bool
    override: str


# only what the ranking asks of a pot can be decided otherwise: the rest is a plan, which is changed where it is made
OVERRIDABLE = frozenset(rule.code for rule in RULES) - set(YEAR_CODES)


def why(a: Assessment | None, of: Finding | str, units: Units) -> Why | None:
    """The grounds of a finding with its inputs in the user's units, or of the one with a code; None for one that is not there.

    Of a tree in a pot the assessment tells the inputs; findings of a plan, a group, a log or the season do without.
    """
    finding = of if isinstance(of, Finding) else a.finding(of) if a is not None else None
    if finding is None:
        return None
    code, ground = finding.code, ground_of(finding.code)
    asked = a if a is not None and a.finding(code) == finding else None
    return Why(
        title=ground.title,
        text=f"{finding.text} {finding.remedy}".strip(),
        rule=ground.rule,
        inputs=_inputs(asked, code, units) if asked is not None else (),
        changed=ground.changed,
        source=finding.source,
        evidence=ground.evidence,
        sure=ground.sure,
        other=ground.other,
        schools=_schools(asked, code, units) if asked is not None else (),
        can_override=finding.status in ("no", "watch") and not finding.overridden and code in OVERRIDABLE,
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
        band = getattr(bands(a.case.tree, school, a.case.purpose, brief.trunk_station), name)
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
        found.append(("Inside", f"{u.mm(pot.inner_depth_mm)} deep; {u.mm(a.seat.base_mm)} kept below the roots"))
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
