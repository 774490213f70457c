"""The report of a tree in a pot, as the numbers that command line, sheet and window share."""

from typing import Any

import numpy as np

from kesh.advice.assess import Assessment
from kesh.advice.planting.tie_plan import tie_plan
from kesh.advice.report.roots import placement_part, plan_part
from kesh.advice.report.season import season_part
from kesh.advice.roots.work import pot_stages
from kesh.base.errors import FieldError
from kesh.geometry.overall import overall_mm
from kesh.science.roots.fit import ball_ring, min_clearance_mm
from kesh.science.stand.hardware import Hardware, hardware
from kesh.science.water.drainage import tilted

DEFAULT_GUST_M_S = 10.0


def number(value: Any) -> float | None:
    """A plain finite number, or None."""
    if value is None:
        return None
    value = float(np.asarray(value).reshape(-1)[0])
    return value if np.isfinite(value) else None


def cut_list(a: Assessment) -> Hardware | None:
    """Screens, clips and ties for the pot; None while the root mass is unknown or nothing can be drilled."""
    f, roots = a.figures, a.case.roots
    if roots is None or f.roots is None or a.pot.profile.kind == "slab":
        return None
    # as it stands in the pot: a turned root mass shows its other side
    long, wide = np.ptp(ball_ring(roots, a.seat.turn_deg), axis=0)
    ball = (max(0.0, float(long - f.roots.off_left_mm[0] - f.roots.off_right_mm[0])),
            max(0.0, float(wide - f.roots.off_front_mm[0] - f.roots.off_back_mm[0])))  # fmt: skip
    gust = a.case.site.gust_m_s if a.case.site and a.case.site.gust_m_s is not None else DEFAULT_GUST_M_S
    finest = a.case.blend.finest_mm if a.case.blend else 3.0
    below = max(0.0, float(f.pots.inner_depth[0]) + a.case.seat.raise_mm - float(f.roots.kept_depth_mm[0]))
    try:
        return hardware(f.pots, f.tree_body, ball, float(f.roots.kept_depth_mm[0]), below, gust, finest)
    except FieldError:
        return None


def ties_part(a: Assessment) -> dict[str, Any]:
    """The wires that hold the tree and how firmly, from every ten degrees; None where its mass is not known."""
    plan = tie_plan(a)
    wires = plan.wires if plan is not None else ()
    held = plan.hold if plan is not None else None
    rows = [
        {"holes": [list(h) for h in w.holes], "over": [list(p) for p in w.over], "length_mm": w.length_mm, "gauge_mm": w.gauge_mm, "metal": w.metal}
        for w in wires
    ]  # fmt: skip
    if held is None or held.margin is None or held.margin_untied is None:
        names = ("hold_min_n", "hold_weakest_deg", "margin_min", "margin_untied")
        return {"ties": rows, "hold_n": [], **dict.fromkeys(names)}
    return {
        "ties": rows, "hold_n": [float(v) for v in held.rose_n], "hold_min_n": float(held.rose_n.min()),
        "hold_weakest_deg": held.weakest_deg, "margin_min": float(held.margin.min()), "margin_untied": float(held.margin_untied.min()),
    }  # fmt: skip


def _blank(figures: Any) -> Any:
    """The same keys without a figure."""
    if isinstance(figures, dict):
        return {key: _blank(value) for key, value in figures.items()}
    return [] if isinstance(figures, list) else None


def report(a: Assessment, *, on_day: bool = False) -> dict[str, Any]:
    """Every figure of the report by name; None where unknown. With `on_day` the season is told of the case's day."""
    f, case, pot = a.figures, a.case, a.pot
    bands, body, fit = case.bands, f.body, f.roots
    seat = f.seat
    parts = cut_list(a)
    water, use, stand, mix = f.water, f.use, f.stand, case.blend
    drains = bool(f.drains[0]) and bool(f.plantable[0])
    found: dict[str, Any] = {
        "tree": case.tree.id,
        "pot": pot.id,
        "mix": case.mix.id if case.mix else None,
        "school": case.school.key,
        "season": season_part(a, on_day=on_day),
        "verdict": a.verdict,
        "answers": a.answers.as_json(),
        "proportion": {
            "depth_ratio": number(f.depth_ratio),
            "length_ratio": number(f.length_ratio),
            "width_ratio": pot.width_mm / pot.length_mm,
            "visual_mass_ratio": number(f.visual_ratio),
            "targets": {
                "depth_mm": [number(bands.depth.low), number(bands.depth.high)],
                "length_mm": [number(bands.length.low), number(bands.length.high)],
                "width_mm": [number(bands.width.low), number(bands.width.high)],
                "volume_l": [number(bands.volume.low), number(bands.volume.high)],
            },
        },
        "geometry": {
            "inner_volume_l": number(body.inner_volume_l),
            "computed_volume_l": number(body.computed_volume_l),
            "fill_volume_l": number(f.fill_l),
            "inner_depth_mm": number(f.pots.inner_depth),
            "soil_surface_cm2": number(f.soil_surface_mm2 / 100),
            "body_volume_cm3": number(body.body_volume_cm3),
            "body_mass_kg": number(body.mass_kg),
            "undercut_mm": number(f.undercut[0]),
            "mouth_clear": bool(f.undercut[0][0] <= 0.05),
            "hole_area_cm2": number(body.hole_area_cm2),
            "overall_mm": list(overall_mm(pot)),
        },
    }
    names = (
        "kept_depth_mm",
        "off_bottom_mm",
        "off_left_mm",
        "off_right_mm",
        "off_front_mm",
        "off_back_mm",
        "removed_volume_share",
        "removed_feeder_share",
    )
    roots: dict[str, Any] = {name: number(getattr(fit, name)) if fit else None for name in names}
    roots["limit_share"] = number(case.limit_share)
    roots["stages"] = []
    roots["min_clearance_mm"] = None
    if fit is not None and case.roots is not None:
        roots["min_clearance_mm"] = number(min_clearance_mm(case.roots, f.pots, seat, fit))
        if case.limit_share is not None:
            roots["stages"] = [{"year": s.year, "removed_feeder_share": s.removed_feeder_share} for s in pot_stages(f)]
    found["roots"] = roots | plan_part(a)
    found["mix_id"] = found.pop("mix")
    found["mix"] = {
        "phi_e": mix.phi_e if mix else None,
        "phi_int": mix.phi_int if mix else None,
        "dry_density_kg_l": mix.dry_density_kg_l if mix else None,
        "volume_loss": mix.volume_loss if mix else None,
        "capillary_rise_mm": mix.rise_mm if mix else None,
        "n": mix.n if mix else None,
        "ks_mm_s": mix.ks_mm_s if mix else None,
    }
    held = water if water is not None and drains else None
    factor = number(body.volume_factor) or 1.0
    found["water"] = {
        "held_l": number(held.held_l) if held else None,
        "available_l": number(held.available_l) if held else None,
        "air_porosity_mean": number(held.air_mean) if held else None,
        "air_porosity_bottom_third": number(held.air_bottom_third) if held else None,
        "wet_height_mm": number(held.wet_height_mm) if held else None,
        "wet_share": number(held.wet_share) if held else None,
        "layer_held_l": number(held.layer_held_l) if held else None,
        "et_peak_l_day": number(use.demand_l_day) if use and held else None,
        "days_between_watering_peak": number(use.days_between) if use and held else None,
    }
    if case.tilt_deg and held is not None and mix is not None:
        slope = tilted(f.pots, mix, float(f.soil_depth_mm[0]), abs(case.tilt_deg))
        found["water"]["tilted"] = {
            "tilt_deg": case.tilt_deg,
            "held_l": slope.held_tilted_l * factor,
            "left_l": slope.water_left_l * factor,
            "drained_l": slope.drained_l * factor,
            "below_drain_share": slope.below_drain_share,
        }
    found["stability"] = {
        "mass_dry_kg": number(stand.mass_dry_kg) if stand else None,
        "mass_wet_kg": number(stand.mass_wet_kg) if stand else None,
        "cog_height_mm": number(stand.cog_height_mm) if stand else None,
        "tip_angle_deg": number(stand.tip_angle_deg) if stand else None,
        "tip_wind_m_s": number(stand.tip_wind_m_s) if stand else None,
        "slide_wind_m_s": number(stand.slide_wind_m_s) if stand else None,
    }
    found["placement"] = placement_part(a)
    found["hardware"] = {
        "screens": list(parts.screens_mm) if parts else [],
        "clip_wire_mm": list(parts.clip_wire_mm) if parts else [],
        "tie_wire_mm": list(parts.tie_wire_mm) if parts else [],
        "tie_gauge_mm": parts.tie_gauge_mm if parts else None,
        "soil_l": number(f.fresh_soil_l),
        "components_l": f.components_l(0),
        "planned_holes": bool(parts.planned_drains) if parts else False,
        **ties_part(a),
    }
    if a.fault:
        # nothing of a record that cannot be reckoned is a figure
        for group in ("proportion", "geometry", "roots", "water", "stability", "placement", "hardware"):
            found[group] = _blank(found[group])
    found["findings"] = [finding.as_json() for finding in a.findings]
    return found
