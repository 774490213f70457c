"""Which measure moves the advice most: each is shifted by what it may be wrong, and the advice is asked again."""

from dataclasses import dataclass, replace

from kesh.advice.case import Case
from kesh.advice.rank import Ranking, rank
from kesh.base.errors import KeshError
from kesh.base.units import Units
from kesh.model import Pot, RootMass

# how wrong a figure usually is by tape or eye, share of it and least mm [J]
USUAL = {
    "trunk_diameter_mm": ("Trunk above flare", 0.03, 1.0), "trunk_at_soil_mm": ("Trunk at soil", 0.05, 2.0),
    "trunk_mid_mm": ("Trunk at middle", 0.05, 1.0), "height_mm": ("Height", 0.02, 4.0),
    "canopy_left_mm": ("Reach left", 0.04, 4.0), "canopy_right_mm": ("Reach right", 0.04, 4.0),
    "canopy_front_mm": ("Reach front", 0.10, 8.0), "canopy_back_mm": ("Reach back", 0.10, 8.0),
}  # fmt: skip
ROOTS = {
    "length_mm": ("Root mass length", 0.06, 6.0), "width_mm": ("Root mass width", 0.06, 6.0),
    "depth_mm": ("Root mass depth", 0.10, 6.0),
}  # fmt: skip
ESTIMATED = 2.0


@dataclass(frozen=True)
class Influence:
    """A measure, how wrong it may be, how far the bands and the scores then move, and whether the first place changes."""

    field: str
    words: str
    value_mm: float
    wrong_by_mm: float
    bands_move: float
    scores_move: float
    first_changes: bool

    @property
    def weight(self) -> float:
        """One figure to order by: a changed first place counts most."""
        return self.bands_move + self.scores_move + (0.25 if self.first_changes else 0.0)

    def sentence(self, u: Units) -> str:
        """What it means for the grower."""
        told = []
        if self.bands_move >= 0.005:
            told.append(f"moves the sizes asked for by {self.bands_move:.0%}")
        if self.first_changes:
            told.append("would put another pot first")
        elif self.scores_move >= 0.005 or not told:
            told.append(f"moves the scores by {max(self.scores_move, 0.001):.1%}")
        return f"{self.words} {u.mm(self.value_mm)}: {u.mm(self.wrong_by_mm)} off {' and '.join(told)}."


def sensitivity(case: Case, pots: tuple[Pot, ...], wrong_by: dict[str, float] | None = None) -> tuple[Influence, ...]:
    """Influences of all known measures, the largest first. `wrong_by` are plus or minus of a photograph or device, mm."""
    if not pots:
        return ()
    base = rank(case, pots)
    found = []
    for field, (words, share, least) in USUAL.items():
        value = getattr(case.tree.measure, field)
        if value is not None:
            guess = ESTIMATED if field in case.tree.measure.assumed else 1.0
            wrong = (wrong_by or {}).get(field) or max(share * value, least) * guess
            found.append(_influence(case, pots, base, field, words, float(value), float(wrong)))
    roots = case.roots
    if roots is not None:
        for field, (words, share, least) in ROOTS.items():
            value = getattr(roots, field)
            wrong = max(share * value, least) * (ESTIMATED if roots.estimated else 1.0)
            found.append(_influence(case, pots, base, f"root_{field}", words, value, wrong))
    kept = [f for f in found if f is not None and f.weight > 1e-4]
    return tuple(sorted(kept, key=lambda x: (-x.weight, x.field)))


def _influence(
    case: Case, pots: tuple[Pot, ...], base: Ranking, field: str, words: str, value: float, wrong: float
) -> Influence | None:
    bands_move = scores_move = 0.0
    changes = False
    own = dict(zip((p.id for p in pots), base.score.tolist(), strict=True))
    first = base.entry(0).pot
    for side in (-1.0, 1.0):
        try:
            other = _shifted(case, field, value + side * wrong)
            ranked = rank(other, pots)
        except KeshError:
            continue
        scores = dict(zip((p.id for p in pots), ranked.score.tolist(), strict=True))
        scores_move = max(scores_move, max(abs(scores[k] - own[k]) for k in own))
        changes |= ranked.entry(0).pot != first
        for mine, theirs in zip(case.bands.all(), other.bands.all(), strict=True):
            if mine.low and mine.high and theirs.low is not None and theirs.high is not None:
                middle = (mine.low + mine.high) / 2
                bands_move = max(bands_move, abs((theirs.low + theirs.high) / 2 - middle) / middle)
    return Influence(field, words, value, wrong, bands_move, scores_move, changes)


def _shifted(case: Case, field: str, value: float) -> Case:
    """The case with one figure shifted; the drawn tree is stretched for it, not grown anew."""
    tree, case = case.tree, replace(case, hurry=True, at_rest=case.tree)
    if field.startswith("root_"):
        roots: RootMass = tree.root_masses[-1].changed(**{field.removeprefix("root_"): value})
        return replace(case, tree=tree.changed(root_masses=(*tree.root_masses[:-1], roots)))
    measure = tree.measure.changed(**{field: value})
    return replace(case, tree=tree.changed(measures=(*tree.measures[:-1], measure)))
