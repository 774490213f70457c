"""All routes by key, found by their files: which a design can take, and the job it gives."""

import json
import pkgutil
from collections.abc import Mapping
from dataclasses import asdict, replace
from functools import cache
from importlib import import_module
from types import MappingProxyType
from typing import Any

from pydantic import TypeAdapter, ValidationError

from kesh.advice.assess import Assessment, assess
from kesh.advice.case import Case
from kesh.advice.routes.job import Job, hours_words
from kesh.advice.routes.route import Route
from kesh.advice.routes.wishes import MakerWishes
from kesh.base.errors import FieldError, KeshError
from kesh.model import Pot

# where wishes of an older file lie
OLD = {"printing": "print", "box": "box", "tube": "tube"}


@cache
def routes() -> Mapping[str, Route]:
    """Every route by its key, in the order of the tabs."""
    files = pkgutil.iter_modules(import_module(__package__).__path__)
    found = [getattr(import_module(f"{__package__}.{file.name}"), "ROUTE", None) for file in files]
    held = sorted((route for route in found if isinstance(route, Route)), key=lambda route: route.place)
    return MappingProxyType({route.key: route for route in held})


def wishes_text(wishes: MakerWishes) -> str:
    """What the makers bring, as JSON to be kept."""
    return json.dumps(asdict(wishes))


def wishes_of(text: str) -> MakerWishes:
    """What was kept; the defaults for text that is empty or cannot be read."""
    try:
        found: dict[str, Any] = json.loads(text)
        own = dict(found.pop("own", {}))
        for old, key in OLD.items():
            if old in found:
                own[key] = found.pop(old)
        if "plastic" in found:
            own["print"] = {**own.get("print", {}), "plastic": found.pop("plastic")}
        kinds = {key: routes()[key].wishes for key in own if key in routes()}
        read = {key: TypeAdapter(kind).validate_python(own[key]) for key, kind in kinds.items() if kind is not None}
        return replace(TypeAdapter(MakerWishes).validate_python(found), own=read)
    except (ValidationError, KeshError, ValueError, TypeError, AttributeError):
        return MakerWishes()


def job(route: str, pot: Pot, case: Case | None = None, wishes: MakerWishes | None = None) -> Job:
    """The job of one route for a design, with its waits summed up.

    Raises FieldError when the design cannot be made so, naming the field.
    """
    if route not in routes():
        raise FieldError("route", f"'{route}' is no way of making a pot; choose {', '.join(routes())}")

    def judged(one: Pot) -> Assessment | None:
        return None if case is None else assess(case, one)

    made = routes()[route].make(pot, judged, wishes or MakerWishes())
    if not made.waits_h:
        return made
    return replace(made, facts=(*made.facts, ("Waits in all", f"about {hours_words(made.waits_h)}")))
