"""Where to try the trunk in a pot: as near the school's place as the roots allow without a further cut."""

from kesh.advice.case import Case
from kesh.geometry.columns import columns
from kesh.model import Pot
from kesh.science.roots.fit import Seat, fit
from kesh.science.stand.placement import stand_at_mm

STEPS = (1.0, 0.8, 0.6, 0.4, 0.2)
MORE_SHARE = 0.005


def place_mm(case: Case, pot: Pot) -> tuple[float, float]:
    """(x, y) of the trunk from the pot's centre, mm. Without a root mass the school's own place."""
    x, y = stand_at_mm(case.bands.tradition, case.tree.flow, pot.length_mm, pot.width_mm)
    roots, base = case.roots, case.seat
    if roots is None or pot.profile.kind == "slab":
        return x, y
    pots = columns((pot,))

    def cut(share: float) -> float:
        seat = Seat(x * share, y * share, base.turn_deg, base.raise_mm, base.floor_layer_mm, base.clearance_mm)
        return float(fit(roots, pots, seat).removed_feeder_share[0])

    least = cut(0.0)
    share = next((s for s in STEPS if cut(s) <= least + MORE_SHARE), 0.0)
    return round(x * share, 1), round(y * share, 1)
