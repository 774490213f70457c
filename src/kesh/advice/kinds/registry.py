"""Every kind of planting as its object."""

from collections.abc import Mapping
from functools import cache
from importlib import import_module
from types import MappingProxyType

from kesh.advice.kinds.kind import Kind
from kesh.advice.kinds.kinds import files_of_kinds, kind_of, worked_as
from kesh.advice.kinds.plan import Setting, SpecialPlan


@cache
def kinds() -> Mapping[str, Kind]:
    """By key, in the order of the list."""
    found: list[Kind] = [import_module(name).KIND for name in files_of_kinds()]
    return MappingProxyType({kind.row.key: kind for kind in found})


def kind_for(s: Setting) -> Kind:
    """The kind of a planting, by whose steps it is done."""
    return kinds()[worked_as(s.planting, s.a.case.tree, s.a.case.species)]


def special_plan(s: Setting) -> SpecialPlan | None:
    """The plan of a special planting; None for a plain one, and for groups, which have a step of their own."""
    kind = kinds().get(kind_of(s.planting, s.a.case.tree))
    return None if kind is None or kind.make is None else kind.make(s)
