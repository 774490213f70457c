"""What a step of the work is, and what it is made of."""

from dataclasses import dataclass, field

from kesh.advice.assess import Assessment
from kesh.advice.planting.cautions import LATEX, POISON, THORNS
from kesh.advice.planting.cut_list import CutList
from kesh.advice.planting.soil_batch import Batch
from kesh.advice.planting.tie_plan import TiePlan
from kesh.advice.roots.this_year import stands_now_mm
from kesh.base.units import Units
from kesh.reference.notes import Caution, cautions

FINISH_TESTS = {
    "sinks": "The soil no longer sinks when it is watered",
    "moves": "Lift it by the trunk: the pot comes along",
    "void": "A stick finds no hollow, all round and under the middle",
    "trimmed": "Wire ends are cut short and turned in",
    "label": "Label and front marker stand where they stood",
}


@dataclass(frozen=True)
class WorkStep:
    """One step: a word for the path, the sentence that is read from afar, the figure and what it is, what else to know.

    `clock` is what it does to the roots: start (they lie bare from now), end (they are covered), or nothing.
    `drawing` names what is drawn beside it.
    """

    key: str
    word: str
    title: str
    figure: str = ""
    figure_words: str = ""
    lines: tuple[str, ...] = ()
    drawing: str = ""
    clock: str = ""
    minutes: float | None = None
    cautions: tuple[Caution, ...] = ()
    checks: tuple[str, ...] = field(default_factory=tuple)


# the work on a tree that is planted alone, in order; what a plan does not have is left out
PLAIN = (
    "screens", "wires", "mix", "lift", "surface", "comb", "roots", "saw", "try", "coarse", "heap", "set", "tie", "fill", "tighten",
    "dress", "test", "water", "carry",
)  # fmt: skip


def before(order: tuple[str, ...], key: str, *more: str) -> tuple[str, ...]:
    """An order with steps before one of its own."""
    at = order.index(key)
    return (*order[:at], *more, *order[at:])


def behind(order: tuple[str, ...], key: str, *more: str) -> tuple[str, ...]:
    """An order with steps after one of its own."""
    at = order.index(key) + 1
    return (*order[:at], *more, *order[at:])


@dataclass(frozen=True)
class Tools:
    """What the steps are made of."""

    a: Assessment
    ties: TiePlan | None
    batch: Batch | None
    cuts: CutList | None
    u: Units


def tied(t: Tools) -> bool:
    """Whether wires hold it."""
    return t.ties is not None and bool(t.ties.wires)


def care(*keys: str) -> tuple[Caution, ...]:
    """Cautions by their keys."""
    return tuple(cautions()[key] for key in keys)


def sap(a: Assessment) -> list[str]:
    """What the species' genus asks for: latex, poison, thorns."""
    species = a.case.species
    genus = species.botanical_name.split(" ")[0] if species else ""
    return [
        key for key, kinds in (("latex_sap", LATEX), ("poison_plant", POISON), ("thorns", THORNS)) if genus in kinds
    ]


def over_rim(t: Tools) -> tuple[str, str]:
    """(figure, unit and side) of how far the top of the roots stands over or under the rim this time."""
    stands = stands_now_mm(t.a.figures)
    return t.u.figure(abs(stands)), f"{t.u.length} {'over the rim' if stands >= -0.05 else 'under the rim'}"
