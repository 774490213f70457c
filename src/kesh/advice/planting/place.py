"""Where to try the trunk in a pot: as near the school's place as the roots allow without a further cut."""

from dataclasses import replace

from kesh.advice.case import Case
from kesh.geometry.columns import columns
from kesh.model import Pot, Tree
from kesh.science.roots.fit import fit
from kesh.science.stand.placement import stand_at_mm

STEPS = (1.0, 0.8, 0.6, 0.4, 0.2)
MORE_SHARE = 0.005


# a pot whose sides differ by less than this share has no long side to stand along
SQUARE_SHARE = 0.08


def flow_in(tree: Tree, pot: Pot) -> str:
    """Where the tree leads to, for its place: as entered, else to its heavier side; nowhere in a round or square pot."""
    if abs(pot.length_mm - pot.width_mm) < SQUARE_SHARE * pot.length_mm:
        return "none"
    if tree.flow != "none":
        return tree.flow
    m = tree.measure
    return "left" if (m.canopy_left_mm or 0.0) > (m.canopy_right_mm or 0.0) else "right"


def place_mm(case: Case, pot: Pot) -> tuple[float, float]:
    """(x, y) of the trunk from the pot's centre, mm. Without a root mass the school's own place."""
    x, y = stand_at_mm(case.bands.tradition, flow_in(case.tree, pot), pot.length_mm, pot.width_mm)
    roots, base = case.roots, case.seat
    if roots is None or pot.profile.kind == "slab":
        return x, y
    pots = columns((pot,))
    under = case.base_mm(pots.inner_depth)

    def cut(share: float) -> float:
        seat = replace(base, offset_x_mm=x * share, offset_y_mm=y * share, floor_layer_mm=under)
        return float(fit(roots, pots, seat).removed_feeder_share[0])

    least = cut(0.0)
    share = next((s for s in STEPS if cut(s) <= least + MORE_SHARE), 0.0)
    return round(x * share, 1), round(y * share, 1)
