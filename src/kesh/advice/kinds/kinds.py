"""The kinds of planting by their rows: what each is called, what it changes, which styles bring it, what is not asked of it.

A kind is a file in this folder that holds a `KIND`; it is found by its file. Who needs only the rows asks here, who
needs plans, fields or grips asks `registry`.
"""

import pkgutil
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib import import_module
from types import MappingProxyType

from kesh.model import Planting, Tree
from kesh.reference.tables import Species

DISPLAY = ("depth_band", "length_band", "width_band", "visual_mass")


@dataclass(frozen=True)
class KindRow:
    """One kind: `place` in the list, `field` of the planting that holds its record, `off` the rules of display that are not asked."""

    key: str
    place: int
    words: str
    changes: str
    field: str = ""
    styles: tuple[str, ...] = ()
    off: tuple[str, ...] = ()
    why_off: str = ""


@cache
def files_of_kinds() -> tuple[str, ...]:
    """The modules that hold a kind, in the order of the list."""
    # opened by name when first asked: a kind's plan stands on the case, and the case asks which kind it is
    names = [f"{__package__}.{file.name}" for file in pkgutil.iter_modules(import_module(__package__).__path__)]
    held = [name for name in names if hasattr(import_module(name), "KIND")]
    return tuple(sorted(held, key=lambda name: import_module(name).KIND.row.place))


@cache
def kind_rows() -> Mapping[str, KindRow]:
    """Every kind by its key, in the order of the list."""
    rows: list[KindRow] = [import_module(name).KIND.row for name in files_of_kinds()]
    return MappingProxyType({row.key: row for row in rows})


@cache
def _by_style() -> Mapping[str, str]:
    return {style: row.key for row in kind_rows().values() for style in row.styles}


def kind_of(planting: Planting | None, tree: Tree) -> str:
    """What is special about a planting: as chosen, else by the record it carries, else by the tree's style."""
    if planting is not None and planting.kind is not None:
        return planting.kind
    if planting is not None:
        for row in kind_rows().values():
            if row.field and getattr(planting, row.field) is not None:
                return row.key
    return _by_style().get(tree.style, "group" if len(tree.group) > 2 else "pair" if len(tree.group) == 2 else "plain")


def worked_as(planting: Planting | None, tree: Tree, species: Species | None) -> str:
    """The kind whose work is done: a succulent is planted dry though nobody has said that it is a desert plant.

    Palms and cycads store water too, but drink within days: they are worked so only where it was said.
    """
    kind = kind_of(planting, tree)
    return "desert" if kind == "plain" and species is not None and species.group == "succulent" else kind


def chosen_off(planting: Planting | None) -> tuple[tuple[str, ...], str]:
    """(rules of display that are not asked of a planting whose kind was chosen, why)."""
    if planting is None or planting.kind is None:
        return (), ""
    row = kind_rows()[planting.kind]
    return row.off, row.why_off
