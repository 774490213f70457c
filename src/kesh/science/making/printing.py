"""What a print takes: shell and infill, filament, layers, hours."""

from dataclasses import dataclass

import numpy as np

from kesh.base.errors import FieldError

FILAMENT_MM = 1.75


@dataclass(frozen=True)
class PrintSetting:
    """Walls, line width, layer height, infill share, flow and how much of the time it flows; judgement as defaults."""

    walls: int = 3
    line_mm: float = 0.8
    layer_mm: float = 0.3
    infill: float = 0.2
    flow_mm3_s: float = 10.0
    efficiency: float = 0.75


@dataclass(frozen=True)
class PrintEstimate:
    """Plastic in litres and kg, metres of filament, layers and hours."""

    extruded_l: float
    mass_kg: float
    filament_m: float
    layers: int
    hours: float


def estimate(
    volume_l: float, surface_m2: float, height_mm: float, density_kg_l: float, setting: PrintSetting | None = None
) -> PrintEstimate:
    """Estimate of one piece. Raises FieldError for settings outside their range."""
    s = setting or PrintSetting()
    if not 0 <= s.infill <= 1:
        raise FieldError("infill", f"{s.infill:g} is no share; infill lies between 0 and 1")
    if s.walls < 1 or min(s.line_mm, s.layer_mm, s.flow_mm3_s, s.efficiency) <= 0:
        raise FieldError("print", "walls, line, layer, flow and efficiency must be above nought")
    shell = min(volume_l, surface_m2 * s.walls * s.line_mm)
    extruded = shell + s.infill * (volume_l - shell)
    hours = extruded * 1e6 / (s.flow_mm3_s * s.efficiency) / 3600
    metres = extruded * 1e6 / (np.pi * FILAMENT_MM**2 / 4) / 1000
    return PrintEstimate(
        extruded, extruded * density_kg_l, float(metres), int(np.ceil(height_mm / s.layer_mm - 1e-9)), hours
    )
