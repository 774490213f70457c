"""How a tree is meant to stand in a pot: as planted, as planned, as the line-up tries it, or by the school's custom."""

from kesh.advice.case import case_for
from kesh.advice.planting.place import place_mm
from kesh.model import Collection, Planting, Pot


def planting_in(c: Collection, tree: str, pot: Pot) -> Planting:
    """How the tree stands in a pot, is planned to, or would stand there by the line-up or the school's custom."""
    found = c.planting_of(tree, pot.id)
    if found is not None:
        return found
    lineup, present = c.lineups.get(tree), c.planting_of(tree)
    trial = next((t for t in lineup.trials if t.pot == pot.id), None) if lineup is not None else None
    case = case_for(c, tree)
    x, y = (trial.offset_x_mm, trial.offset_y_mm) if trial is not None else place_mm(case, pot)
    return Planting(
        id=f"{tree}-{pot.id}-plan", tree=tree, pot=pot.id, mix=case.mix.id if case.mix is not None else None, offset_x_mm=x, offset_y_mm=y,
        planned=True, anchors=present.anchors if present is not None else "ties",
    )  # fmt: skip
