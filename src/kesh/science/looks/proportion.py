"""What size of pot a style and a school ask for (docs/methods.md, "wanted sizes"). Custom, not measurement."""

from dataclasses import dataclass

from kesh.model.tree import HANGING, Measure, Tree
from kesh.reference.schools import School
from kesh.reference.tables import Tradition, traditions

VOLUME_FILL = (0.62, 0.78)
# a canopy that was just thinned fills in by up to so much within a season [J]
FILLS_IN = 4 / 3
REACHES = ("canopy_left_mm", "canopy_right_mm", "canopy_front_mm", "canopy_back_mm", "drop_mm")


@dataclass(frozen=True)
class WantedBand:
    """A wanted range with its rule, inputs and reason; low None means the measure is missing."""

    name: str
    low: float | None
    high: float | None
    unit: str
    rule: str
    inputs: tuple[tuple[str, float | None], ...]
    reason: str
    missing: str = ""

    def place(self, value: float) -> str:
        """below, inside or above."""
        if self.low is None or self.high is None:
            return "unknown"
        return "below" if value < self.low - 1e-9 else "above" if value > self.high + 1e-9 else "inside"


def tradition_of(style: str, school: str) -> tuple[Tradition, bool]:
    """The tradition row of a school for a style, and whether the classical row had to stand in."""
    rows = traditions()
    row = rows.get((style, school))
    return (row, False) if row else (rows[(style, "classical")], True)


def fall_mm(measure: Measure) -> float | None:
    """Highest to lowest point of a hanging tree."""
    if measure.height_mm is None or measure.drop_mm is None:
        return None
    return measure.height_mm + measure.drop_mm


def basis_mm(tree: Tree, basis: str) -> float | None:
    """The measure on which a length rule rests; a hanging tree without a drop falls back on its spread."""
    m = tree.measure
    if basis == "height":
        return m.height_mm
    if basis == "spread":
        return m.spread_mm
    if basis == "fall":
        fall = fall_mm(m)
        if fall is None and tree.style in HANGING and m.height_mm is not None and m.crown_base_mm is not None:
            return m.height_mm + max(0.0, -m.crown_base_mm)
        return fall
    if m.height_mm is None or m.spread_mm is None:
        return None
    return max(m.height_mm, m.spread_mm)


def filled_in(measure: Measure) -> Measure:
    """The measures once a thinned canopy has filled in; the same measures where it was not thinned."""
    if not measure.thinned:
        return measure
    reach = {name: getattr(measure, name) for name in REACHES}
    return measure.changed(
        thinned=False, **{name: mm * FILLS_IN for name, mm in reach.items() if mm is not None and mm > 0}
    )


@dataclass(frozen=True)
class WantedBands:
    """All wanted ranges of one brief."""

    depth: WantedBand
    length: WantedBand
    width: WantedBand
    volume: WantedBand
    visual_mass: WantedBand
    tradition: Tradition
    stand_in: bool

    def all(self) -> tuple[WantedBand, ...]:
        """In the order in which growers ask."""
        return self.depth, self.length, self.width, self.volume, self.visual_mass


def bands(tree: Tree, school: School, purpose: str, station: str | None = None) -> WantedBands:
    """Wanted ranges for a tree under a school and a purpose."""
    row, stand_in = tradition_of(tree.style, school.key)
    rule = school.purposes[purpose]
    place = station or tree.trunk_station
    trunk = tree.measure.trunk_mm(place)  # type: ignore[arg-type]
    base = basis_mm(tree, row.length_basis)
    full = (
        base
        if not tree.measure.thinned
        else basis_mm(tree.changed(measures=(filled_in(tree.measure),)), row.length_basis)
    )
    times = {"depth": rule.depth_times, "length": rule.length_times}

    depth_f = (row.depth_factor_low, row.depth_factor_high)
    depth: tuple[float | None, float | None] = (None, None)
    if trunk is not None and depth_f[0] is not None and depth_f[1] is not None:
        depth = (trunk * depth_f[0] * times["depth"][0], trunk * depth_f[1] * times["depth"][1])
    length: tuple[float | None, float | None] = (None, None)
    width: tuple[float | None, float | None] = (None, None)
    if base is not None and full is not None:
        # what was just thinned is measured at its smallest: the pot may already be right for what fills in
        short = base * row.length_factor_low * times["length"][0]
        long = full * row.length_factor_high * times["length"][1]
        length = (short, long)
        width = (short * school.width_of_length[0], long * school.width_of_length[1])
    volume: tuple[float | None, float | None] = (None, None)
    if depth[0] is not None and depth[1] is not None and length[0] and length[1] and width[0] and width[1]:
        volume = (
            length[0] * width[0] * depth[0] * VOLUME_FILL[0] / 1e6,
            length[1] * width[1] * depth[1] * VOLUME_FILL[1] / 1e6,
        )
    place_words = {"soil": "trunk at soil", "above_flare": "trunk above the flare", "mid_trunk": "trunk at the middle"}
    basis_words = {
        "height": "height",
        "spread": "spread",
        "larger": "the larger of height and spread",
        "fall": "the fall, highest to lowest point",
    }
    why = "" if purpose == "refine" else f" {rule.reason}"
    return WantedBands(
        depth=WantedBand(
            "depth", depth[0], depth[1], "mm", f"{depth_f[0]} to {depth_f[1]} × {place_words[place]}",
            ((place_words[place], trunk),), school.depth_reason + why,
            "" if trunk is not None else f"Measure the {place_words[place]}.",
        ),
        length=WantedBand(
            "length", length[0], length[1], "mm",
            f"{row.length_factor_low} to {row.length_factor_high} × {basis_words[row.length_basis]}"
            + (", the most as it is filled in" if full != base else ""),
            ((basis_words[row.length_basis], base),), school.length_reason + why,
            "" if base is not None else f"Measure {basis_words[row.length_basis]}.",
        ),
        width=WantedBand(
            "width", width[0], width[1], "mm",
            f"{school.width_of_length[0]:g} to {school.width_of_length[1]:g} × wanted length",
            ((basis_words[row.length_basis], base),), school.width_reason,
            "" if base is not None else f"Measure {basis_words[row.length_basis]}.",
        ),
        volume=WantedBand(
            "volume", volume[0], volume[1], "l",
            f"wanted length × width × depth, {VOLUME_FILL[0]:g} to {VOLUME_FILL[1]:g} of that box",
            ((place_words[place], trunk), (basis_words[row.length_basis], base)),
            "Walls, corners and headspace take a quarter to a third of the box round the pot.",
            "" if volume[0] is not None else "Needs trunk, height and spread.",
        ),
        visual_mass=WantedBand(
            "visual_mass", school.visual_mass[0], school.visual_mass[1], "", "pot weight / tree weight in the drawing",
            (), school.visual_mass_reason,
        ),
        tradition=row,
        stand_in=stand_in,
    )  # fmt: skip
