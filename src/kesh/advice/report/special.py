"""What is special about a planting in the report: figures, cuts with their lengths, stages with their days."""

from datetime import date
from typing import Any

from kesh.advice.assess import Assessment
from kesh.advice.kinds.plan import Setting
from kesh.advice.kinds.registry import special_plan
from kesh.base.units import Units


def with_special(found: dict[str, Any], a: Assessment, today: date) -> dict[str, Any]:
    """The report with `special`, None for a plain planting; its findings stand among the others."""
    planting = a.case.planting
    plan = None if planting is None else special_plan(Setting(a, planting, Units(), today))
    if plan is None:
        return found | {"special": None}
    part = {
        "kind": plan.kind, "title": plan.title, "figures": {f.label: f.text for f in plan.figures},
        "cuts": [{"name": c.name, "what": c.what, "count": c.count, "length_mm": c.total_mm, "pieces_mm": list(c.pieces_mm), "gauge_mm": c.gauge_mm or None} for c in plan.cuts],
        "stages": [{"title": s.title, "day": None if s.day is None else s.day.isoformat(), "sign": s.sign} for s in plan.stages],
        "steps": [one.step.title for one in plan.steps],
    }  # fmt: skip
    return found | {"special": part, "findings": [*found["findings"], *(f.as_json() for f in plan.findings)]}
