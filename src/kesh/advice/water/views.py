"""Where growers disagree about mix and water, both sides reckoned for the pot in hand where physics can answer."""

from dataclasses import dataclass, replace

from kesh.advice.case import Case
from kesh.advice.figures import Figures, figures_for
from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.model import DrainageLayer, Mix, Part, Pot
from kesh.reference.notes import Disagreement, disagreements

LAYER_KEY, LAYER_MM, FINES_KEY, FINES_SHARE, MOUND_MM = "lava_6_12", 12.0, "compost_0_8", 0.15, 15.0
# a gap between grains and wall draws water up to 2 s cos / (g d): 15 mm for a gap of 1 mm
SLOT_MM2, VOID_MM = 15.0, 6.0


@dataclass(frozen=True)
class WaterView:
    """One question of the table of disagreements: what each side holds, and what this pot's figures say."""

    topic: Disagreement
    here: str


def water_views(case: Case, pot: Pot, u: Units) -> tuple[WaterView, ...]:
    """The questions with their figures here; what cannot be reckoned says so."""
    f = figures_for(case, [pot])
    here = {
        "drainage_layer": _layer(case, pot, f, u), "fines": _fines(case, pot, f), "mound": _mound(case, pot, f, u),
        "old_soil": "No figure decides it: the five questions under Use the old soil again do.", "voids": _voids(), "moist_soil": _moist(f, u),
    }  # fmt: skip
    return tuple(WaterView(topic, here[topic.key]) for topic in disagreements() if topic.key in here)


def _told(f: Figures) -> str:
    """Air of the lowest third and hours of a wet foot."""
    if f.water is None or not f.plantable[0]:
        return "holds no mix"
    foot = f.wet_foot_h
    hours = "time not known" if foot is None else f"wet foot {foot[0]:.0f} h" if foot[0] < 1e4 else "never dry"
    return f"lowest third {f.water.air_bottom_third[0]:.0%} air, {hours}"


def _with(case: Case, pot: Pot, mix: Mix) -> Figures | None:
    try:
        f = figures_for(replace(case, mix=mix), [pot])
        return f if f.water is not None else None
    except FieldError:
        return None


def _layer(case: Case, pot: Pot, f: Figures, u: Units) -> str:
    here = "Choose a mix, and both are reckoned."
    if case.mix is not None and f.water is not None:
        layered = case.mix.changed(drainage_layer=DrainageLayer(substrate=LAYER_KEY, thickness_mm=LAYER_MM))
        other = _with(case, pot, layered)
        bare = _with(case, pot, case.mix.changed(drainage_layer=None))
        if other is not None and bare is not None:
            here = f"Without: {_told(bare)}. Over {u.mm(LAYER_MM)} of coarse lava: {_told(other)}, {u.litres(float(other.layer_l[0]))} less room for roots."
    return here


def _fines(case: Case, pot: Pot, f: Figures) -> str:
    here = "Choose a mix, and both are reckoned."
    if case.mix is not None and f.water is not None and FINES_KEY in case.tables.substrates:
        total = sum(p.parts or 0.0 for p in case.mix.parts)
        fine = case.mix.changed(
            parts=(*case.mix.parts, Part(substrate=FINES_KEY, parts=round(total * FINES_SHARE / (1 - FINES_SHARE), 3)))
        )
        other = _with(case, pot, fine)
        if other is not None:
            here = (
                f"As it is: {_told(f)}{_days(f)}. With {FINES_SHARE:.0%} sieved compost: {_told(other)}{_days(other)}."
            )
    return here


def _days(f: Figures) -> str:
    return (
        ""
        if f.use is None or not f.use.days_between[0] < 400
        else f", lasts {f.use.days_between[0]:.1f} days at the peak"
    )


def _mound(case: Case, pot: Pot, f: Figures, u: Units) -> str:
    here = "A tree that stands in the pot, and both are reckoned."
    if case.planting is not None and f.water is not None:
        flat, hill = (
            figures_for(replace(case, planting=case.planting.changed(mound_mm=m)), [pot]) for m in (0.0, MOUND_MM)
        )
        if flat.water is not None and hill.water is not None:
            here = (
                f"Flat: {flat.water.air_mean[0]:.0%} air, {flat.water.wet_share[0]:.0%} stays wet. Mounded {u.mm(MOUND_MM)}: {hill.water.air_mean[0]:.0%} and "
                f"{hill.water.wet_share[0]:.0%}; the lowest third is the same."
            )
    return here


def _voids() -> str:
    high = SLOT_MM2 / VOID_MM
    return (
        f"A gap {VOID_MM:.0f} mm wide holds water only {high:.0f} mm high: over the wet zone it is air. Roots that cross it dry; below it water stands. "
        "Work the mix in with a stick."
    )


def _moist(f: Figures, u: Units) -> str:
    here = "The tree's measures are not known, so its weight is not."
    if f.stand is not None:
        wet, dry = float(f.stand.mass_wet_kg[0]), float(f.stand.mass_dry_kg[0])
        here = f"Dry it weighs {u.kg(dry)}, wet {u.kg(wet)}: {u.kg(wet - dry)} more to lift. Which soil rakes off better no figure says."
    return here
