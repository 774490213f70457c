"""All routes by key: which a design can take, and the job it gives."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Literal

from pydantic import TypeAdapter, ValidationError

from kesh.advice.assess import Assessment, assess
from kesh.advice.case import Case
from kesh.advice.routes.drill import drill_job
from kesh.advice.routes.job import Job, hours_words
from kesh.advice.routes.joiner import BoxWishes, box_job
from kesh.advice.routes.potter import potter_job
from kesh.advice.routes.printer import PrintWishes, for_print, printer_job
from kesh.advice.routes.tube import TubeWishes, tube_job
from kesh.base.errors import FieldError, KeshError
from kesh.model import Pot
from kesh.science.making.clay import SampleBar

ROUTES: Mapping[str, str] = {
    "potter": "Potter", "print": "Print", "box": "Timber box", "tube": "Tube", "drill": "Drill and adapt",
}  # fmt: skip
FIRED = ("stoneware", "earthenware", "porcelain", "terracotta", "raku")


@dataclass(frozen=True)
class MakerWishes:
    """What each maker brings; `bars` are test bars by clay, kept for the next pot; `kiln_mm` is its inside."""

    shrinkage: float | None = None
    bars: dict[str, SampleBar] = field(default_factory=dict)
    kiln_mm: tuple[float, float, float] | None = None
    people: Literal[1, 2] = 2
    plastic: str = "print_petg"
    printing: PrintWishes = field(default_factory=PrintWishes)
    box: BoxWishes = field(default_factory=BoxWishes)
    tube: TubeWishes = field(default_factory=TubeWishes)

    def shrinkage_of(self, material: str) -> float | None:
        """Total shrinkage of one's own clay; None when no bar of it was fired."""
        bar = self.bars.get(material)
        return bar.total if bar is not None else self.shrinkage


def wishes_text(wishes: MakerWishes) -> str:
    """What the makers bring, as JSON to be kept."""
    return TypeAdapter(MakerWishes).dump_json(wishes).decode()


def wishes_of(text: str) -> MakerWishes:
    """What was kept; the defaults for text that is empty or cannot be read."""
    try:
        return TypeAdapter(MakerWishes).validate_json(text)
    except (ValidationError, KeshError):
        return MakerWishes()


def job(route: str, pot: Pot, case: Case | None = None, wishes: MakerWishes | None = None) -> Job:
    """The job of one route for a design, with its waits summed up.

    Raises FieldError when the design cannot be made so, naming the field.
    """
    made = _job(route, pot, case, wishes or MakerWishes())
    if not made.waits_h:
        return made
    return replace(made, facts=(*made.facts, ("Waits in all", f"about {hours_words(made.waits_h)}")))


def _job(route: str, pot: Pot, case: Case | None, w: MakerWishes) -> Job:

    def judged(one: Pot) -> Assessment | None:
        return None if case is None else assess(case, one)

    if route == "potter":
        fired = pot if pot.material.startswith(FIRED) else pot.changed(material="stoneware_unglazed")
        return potter_job(fired, judged(fired), w.shrinkage, w.bars.get(fired.material))
    if route == "print":
        printed = pot if pot.material.startswith("print") else for_print(pot, w.plastic)
        return printer_job(printed, judged(printed), w.printing)
    if route == "box":
        return box_job(pot, w.box)
    if route == "tube":
        return tube_job(pot, w.tube)
    if route == "drill":
        return drill_job(pot)
    raise FieldError("route", f"'{route}' is no way of making a pot; choose {', '.join(ROUTES)}")
