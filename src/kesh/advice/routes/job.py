"""What somebody is handed to make a pot: figures, what to buy, steps with their waits, cautions, drawings, solids."""

from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from kesh.advice.assess import Finding
from kesh.figure.drawing import Drawing
from kesh.model import Pot
from kesh.reference.notes import Caution, cautions

if TYPE_CHECKING:
    from trimesh import Trimesh

    from kesh.geometry.pieces.split import Assembly


@dataclass(frozen=True)
class Item:
    """A line of the bill of materials."""

    what: str
    amount: float
    unit: str
    note: str = ""

    @property
    def text(self) -> str:
        """Amount with its unit."""
        figure = f"{self.amount:.0f}" if self.unit in ("pieces", "mm", "g", "ml", "sheets") else f"{self.amount:.2f}"
        return f"{figure} {'piece' if self.unit == 'pieces' and figure == '1' else self.unit}"


@dataclass(frozen=True)
class WorkStep:
    """One step of the work, in order; the wait in hours comes after it, and what for."""

    text: str
    wait_h: float = 0.0
    until: str = ""

    @property
    def wait(self) -> str:
        """The wait in words, empty when the next step may follow at once."""
        if self.wait_h <= 0:
            return ""
        return f"{hours_words(self.wait_h)}{', ' if self.until else ''}{self.until}"


@dataclass(frozen=True)
class Check:
    """Something that was checked: its code in the catalogue of findings, fits, watch, no or unknown, and the sentence."""

    code: str
    status: str
    text: str

    def finding(self, route: str) -> Finding:
        """The same as a finding, so that it is listed and asked like any other."""
        return Finding(
            self.code, self.status, None, "", None, None, self.text, "", f"the maker's sheet, {route}", "handling"
        )


@dataclass(frozen=True, eq=False)
class BuiltPart:
    """One part of what is made, in its place, with the colour of its material: a board, a stave, the pipe, its floor."""

    name: str
    solid: "Trimesh"
    colour: str


@dataclass(frozen=True, eq=False)
class Job:
    """One route. `drawings` go to SVG, DXF and PDF; `solids` to STL, 3MF and GLB.

    `assembly` are the pieces of a print and how they go together, `built` the parts of a box, a tub or a pipe in place,
    `views` the same from the front and from above, for the window.
    """

    route: str
    title: str
    pot: Pot
    facts: tuple[tuple[str, str], ...]
    bill: tuple[Item, ...]
    steps: tuple[WorkStep, ...]
    cautions: tuple[Caution, ...]
    checks: tuple[Check, ...] = ()
    drawings: tuple[Drawing, ...] = ()
    template: Drawing | None = None
    solids: tuple[tuple[str, "Trimesh"], ...] = field(default=())
    tables: tuple[tuple[str, tuple[str, ...], tuple[tuple[str, ...], ...]], ...] = ()
    assembly: "Assembly | None" = None
    built: tuple[BuiltPart, ...] = ()
    views: tuple[Drawing, ...] = ()

    @property
    def waits_h(self) -> float:
        """All waits together, hours: the least time from the first step to the last."""
        return sum(step.wait_h for step in self.steps)


def hours_words(hours: float) -> str:
    """Hours up to two days, then days."""
    return f"{hours:g} h" if hours < 48 else f"{hours / 24:.0f} days"


LOCAL = "Local rules and qualified people come before anything written here."


def warned(*keys: str) -> tuple[Caution, ...]:
    """Cautions by key, in the order given."""
    return tuple(cautions()[key] for key in keys)


def size_words(length: float, width: float, height: float | None = None) -> str:
    """Length by width by height in mm."""
    return " × ".join(f"{v:.0f}" for v in (length, width, height) if v is not None) + " mm"
