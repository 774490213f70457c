"""The views on planting without a window: what can be chosen, and what each side means for this tree in this pot."""

from dataclasses import replace

from kesh.advice.figures import figures_for
from kesh.advice.planting.placing import SLIGHT, levelled
from kesh.advice.planting.plan import PlantingPlan
from kesh.advice.planting.tie_plan import HEAVY_KG
from kesh.desk.root_views import ViewRow
from kesh.model.tree import HANGING
from kesh.reference.notes import Disagreement, disagreements
from kesh.science.stand.placement import balance_at

ROWS = (
    ViewRow("tie", "Tie it in", {"always": "always", "asked": "where the figures ask", "never": "never"}),
    ViewRow("wire", "Tie wire", {"two": "2 mm at least", "three": "3 mm for heavy trees"}),
    ViewRow("place", "Place", {"school": "as the school", "centre": "centred while training", "slight": "only slightly off"}),
    ViewRow("mound", "Mound", {"mound": "a mound", "level": "level, headspace"}),
    ViewRow("order", "Ties and soil", {"tie_first": "tie hard, then fill", "fill_first": "fill, tighten last"}),
    ViewRow("watering", "First watering", {"soak": "soak till it runs clear", "tub": "from below in a tub", "little": "little, for plants that rot"}),
    ViewRow("feed", "Feed", {"later": "weeks later", "under": "under the roots", "mixed": "mixed in", "over": "on the soil"}),
)  # fmt: skip
TOPICS = ("tie_in", "tie_wire", "placement", "mound", "tie_order", "first_watering", "feed_at_potting")


def topics() -> tuple[Disagreement, ...]:
    """Where growers disagree about planting, in the order of the rows."""
    by_key = {d.key: d for d in disagreements()}
    return tuple(by_key[key] for key in TOPICS)


def here(plan: PlantingPlan, topic: str) -> str:
    """What this tree in this pot says to both sides; a sentence with figures where something can be reckoned."""
    return {
        "tie_in": _tie_in, "tie_wire": _wire, "placement": _place, "mound": _mound, "tie_order": _order, "first_watering": _watering,
        "feed_at_potting": _feed,
    }[topic](plan)  # fmt: skip


def _tie_in(plan: PlantingPlan) -> str:
    ties = plan.ties
    loose = None if ties is None else ties.untied_margin
    if ties is None or loose is None:
        return "Enter root mass, height and reach, and both sides are reckoned."
    told = f"Untied its weight bears {loose:.1f} times the gust of {plan.u.wind(ties.gust_m_s)} from the weakest side; its roots lift from {plan.u.wind(ties.gone_at_m_s or 0)}."
    style = plan.a.case.tree.style
    young = style == "forest" and (plan.a.case.tree.measure.height_mm or 999) < 350
    return told + (" A young group in a tray is often left untied: the trees hold one another." if young else "")


def _wire(plan: PlantingPlan) -> str:
    stand, ties = plan.a.figures.stand, plan.ties
    if stand is None or ties is None or not ties.wires:
        return "Without a mass both are only custom."
    wet = float(stand.mass_wet_kg[0])
    pull = ties.wires[0].legs()[0].pull_n
    side = "heavy: here the two differ" if wet > HEAVY_KG else "not heavy: both take 2 mm"
    return f"Planted and wet it weighs {plan.u.kg(wet)}, {side}. A leg of {ties.wires[0].gauge_mm:g} mm pulls {pull:.0f} N; 3 mm would pull {pull * (3 / ties.wires[0].gauge_mm) ** 2:.0f}."


def _place(plan: PlantingPlan) -> str:
    f, pot = plan.a.figures, plan.a.pot
    if f.tree_weight is None:
        return "Draw the tree first: its weight is read from the drawing."
    middle = float(balance_at(0.0, f.tree_weight[1], pot.length_mm))
    now = float(balance_at(plan.a.seat.x_mm, f.tree_weight[1], pot.length_mm))
    return f"In the middle its weight lies {middle:+.0%} of half the length off; where it stands, {now:+.0%}. Slightly off is taken as up to {plan.u.mm(SLIGHT * pot.length_mm)}."


def _mound(plan: PlantingPlan) -> str:
    a = plan.a
    flat = levelled(a)
    if flat is None:
        p = a.case.planting
        if p is None or a.figures.water is None:
            return "There is no mound, and no mix to reckon one with."
        high = figures_for(replace(a.case, planting=p.changed(mound_mm=15.0)), [a.pot])
        if high.water is None:
            return "The pot takes no mix."
        return f"Level, {float(a.figures.water.wet_share[0]):.0%} of the soil stays wet; a mound of {plan.u.mm(15)} would make it {float(high.water.wet_share[0]):.0%}."
    if flat.wet_share is None:
        return f"The mound is {plan.u.mm(flat.mound_mm)}; choose a mix, and both are reckoned."
    return f"With {plan.u.mm(flat.mound_mm)}: {flat.wet_share[0]:.0%} of the soil stays wet. Level: {flat.wet_share[1]:.0%}, and {plan.u.mm(a.case.headspace_mm)} to water in."


def _order(plan: PlantingPlan) -> str:
    n = len(plan.ties.wires) if plan.ties is not None else 0
    settle = plan.batch.settling if plan.batch is not None else None
    sinks = (
        f" The soil sinks by about {settle.value:.0%} ({settle.words()}), and what was tied hard before follows it or not."
        if settle is not None
        else ""
    )
    return f"Here {n} wires.{sinks}" if n else "Nothing is tied here; the order does not matter."


def _watering(plan: PlantingPlan) -> str:
    species = plan.a.case.species
    stores = species is not None and species.group == "succulent"
    hangs = plan.a.case.tree.style in HANGING
    told = (
        f"{species.common_name} stores water and rots when cut roots are wet."
        if stores and species is not None
        else "It stores no water in trunk or root: it is watered at once."
    )
    return told + (" A tall pot drains long: wait until it has stopped before it is hung." if hangs else "")


def _feed(plan: PlantingPlan) -> str:
    share = None if plan.this_year is None else plan.feeders_share
    return (
        "What comes off the roots is not known."
        if share is None
        else f"{share:.0%} of the feeders come off: cut roots take up salts before they grow."
    )
