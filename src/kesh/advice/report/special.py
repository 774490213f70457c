"""What is special about a planting in the report: figures, cuts with their lengths, stages with their days."""

from datetime import date
from typing import Any

from kesh.advice.assess import Assessment
from kesh.advice.kinds.plan import Setting
from kesh.advice.kinds.registry import kind_for, special_plan
from kesh.base.units import Units


def with_special(found: dict[str, Any], a: Assessment, today: date) -> dict[str, Any]:
    """The report with `special`, None for a plain planting; its findings stand among the others."""
    planting = a.case.planting
    s = None if planting is None else Setting(a, planting, Units(), today)
    plan = None if s is None else special_plan(s)
    if plan is None or s is None:
        return found | {"special": None}
    part = {
        "kind": plan.kind, "title": plan.title, "figures": {f.label: f.text for f in plan.figures},
        "cuts": [{"name": c.name, "what": c.what, "count": c.count, "length_mm": c.total_mm, "pieces_mm": list(c.pieces_mm), "gauge_mm": c.gauge_mm or None} for c in plan.cuts],
        "stages": [{"title": one.title, "day": None if one.day is None else one.day.isoformat(), "sign": one.sign} for one in plan.stages],
        "steps": [one.title for one in kind_for(s).steps(s)],
    }  # fmt: skip
    return found | {"special": part, "findings": [*found["findings"], *(f.as_json() for f in plan.findings)]}
