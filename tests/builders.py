"""Records for tests, with the figures that a test does not care about filled in."""

from typing import Any

from kesh.model import Hole, Measure, Mix, Month, Outline, Part, Planting, Pot, Profile, RootMass, Site, Tree

HOLES = (Hole(x_mm=-60, diameter_mm=24), Hole(x_mm=60, diameter_mm=24))
MONTHS = tuple(
    Month(tmin_c=low, tmax_c=high, wind_m_s=2.0, rh_pct=70, sun_h_day=sun)
    for low, high, sun in (
        (-3, 2, 2), (-2, 4, 3), (0, 9, 4), (4, 14, 6), (8, 19, 7), (11, 22, 7),
        (13, 24, 8), (12, 24, 7), (9, 19, 5), (5, 13, 4), (1, 7, 2), (-2, 3, 2),
    )
)  # fmt: skip
SITE = Site(name="Bench", latitude_deg=48, elevation_m=420, gust_m_s=12, months=MONTHS)
MIX = Mix(
    id="house", name="House", parts=(Part(substrate="akadama_hard_3_6", parts=2), Part(substrate="lava_3_6", parts=1))
)


def pot(**fields: Any) -> Pot:
    """A plain tray of 400 x 300 x 100 mm unless told otherwise."""
    base: dict[str, Any] = {
        "id": "tray", "name": "Tray", "length_mm": 400, "width_mm": 300, "height_mm": 100, "wall_mm": 8,
        "floor_mm": 10, "holes": HOLES,
    }  # fmt: skip
    profile, outline = fields.pop("profile", None), fields.pop("outline", None)
    if isinstance(profile, dict):
        profile = Profile(**profile)
    if isinstance(outline, dict):
        outline = Outline(**outline)
    base |= {"profile": profile} if profile else {}
    base |= {"outline": outline} if outline else {}
    return Pot(**(base | fields))


def measure(**fields: Any) -> Measure:
    """A tree of 500 mm unless told otherwise; None takes a figure away."""
    base: dict[str, Any] = {
        "height_mm": 500, "trunk_diameter_mm": 70, "trunk_at_soil_mm": 95, "trunk_mid_mm": 40, "flare_width_mm": 105,
        "canopy_left_mm": 200, "canopy_right_mm": 220, "canopy_front_mm": 160, "canopy_back_mm": 150,
        "crown_base_mm": 140, "apex_offset_mm": 10,
    }  # fmt: skip
    return Measure(**(base | fields))


def tree(**fields: Any) -> Tree:
    """A trident maple with a root mass unless told otherwise. Fields of the measure go in `m`."""
    base: dict[str, Any] = {"id": "maple", "name": "Maple", "species": "trident_maple", "style": "informal_upright"}
    base["measures"] = (measure(**fields.pop("m", {})),)
    roots = fields.pop("roots", {})
    base["root_masses"] = () if roots is None else (ball(**roots),)
    return Tree(**(base | fields))


def ball(**fields: Any) -> RootMass:
    """An oval root mass of 300 x 220 x 70 mm unless told otherwise."""
    return RootMass(**({"length_mm": 300, "width_mm": 220, "depth_mm": 70} | fields))


def planting(**fields: Any) -> Planting:
    """The maple in the tray."""
    return Planting(**({"id": "p", "tree": "maple", "pot": "tray", "mix": "house"} | fields))


# free outlines with a bay, with a deep one, and with sharp corners, mm round their own middle
ELL = ((-150.0, -110.0), (150.0, -110.0), (150.0, 10.0), (0.0, 10.0), (0.0, 110.0), (-150.0, 110.0))
SEE = (
    (-160.0, -120.0), (160.0, -120.0), (160.0, -20.0), (-20.0, -20.0), (-20.0, 40.0), (160.0, 40.0), (160.0, 120.0), (-160.0, 120.0),
)  # fmt: skip
TRIANGLE = ((-160.0, -120.0), (160.0, -120.0), (0.0, 120.0))
