"""Heights on the trunk without a window: stations, the reader, and what was marked at a height."""

from dataclasses import dataclass

from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.model import FEATURES, Feature, Tree
from kesh.photo.measure import PhotoMeasures
from kesh.reference.schools import School
from kesh.science.looks.proportion import bands

STATION_WORDS = {
    "soil": "at soil", "above_flare": "above flare", "mid_trunk": "at middle", "below_first_branch": "first branch",
}  # fmt: skip
# where the depth rule may take the trunk
STATIONS = {"above_flare": "above the flare", "soil": "at soil", "mid_trunk": "at the middle"}
HEIGHT_WORDS = {
    "graft": "Graft", "top_roots": "Top roots", "aerial_root": "Aerial root tip", "reverse_taper": "Reverse taper",
    "wound": "Wound", "tap_root": "Taproot end",
}  # fmt: skip
WHY_STATION = {
    "above_flare": "just above the flare, where buttress roots no longer widen it",
    "soil": "at the soil, where tradition for straight, tapering trunks takes it",
    "mid_trunk": "half way up, where a swollen base would say too much",
}
SPECIAL = {
    "clump": "A clump counts by its thickest stem; stems together look heavier.",
    "forest": "In a group the main tree sets the depth; the tray stays shallow.",
    "multi_trunk": "Take the thickest stem; stems together look heavier.",
    "twin_trunk": "Take the main stem above where the two part.",
    "raft": "The line of trunks sets the tray; take the main trunk above the raft.",
    "exposed_root": "Take it above the exposed roots.",
    "root_over_rock": "Take it above the rock.",
}


@dataclass(frozen=True)
class MarkedHeight:
    """Something marked at a height on the trunk; `key` tells it from the others."""

    key: str
    words: str
    height_mm: float


def marked_heights(tree: Tree) -> tuple[MarkedHeight, ...]:
    """The graft and every feature, lowest first."""
    found = [MarkedHeight(f"{f.kind}:{i}", HEIGHT_WORDS[f.kind], f.height_mm) for i, f in enumerate(tree.features)]
    if tree.measure.graft_height_mm is not None:
        found.append(MarkedHeight("graft", HEIGHT_WORDS["graft"], tree.measure.graft_height_mm))
    return tuple(sorted(found, key=lambda h: h.height_mm))


def with_marked(tree: Tree, kind: str, height_mm: float) -> Tree:
    """The tree with one more height marked; the graft has one height only. Raises FieldError."""
    at = round(height_mm, 1)
    if kind == "graft":
        return _grafted(tree, max(at, 0.0))
    if kind not in FEATURES:
        raise FieldError("kind", f"'{kind}' is not marked on a trunk")
    return tree.changed(features=(*tree.features, Feature(kind=kind, height_mm=at)))


def with_height(tree: Tree, key: str, height_mm: float | None) -> Tree:
    """The tree with a marked height elsewhere, or taken away for None. Raises FieldError."""
    at = None if height_mm is None else round(height_mm, 1)
    if key == "graft":
        return _grafted(tree, at if at is None else max(at, 0.0))
    number = int(key.split(":")[1])
    features = list(tree.features)
    if at is None:
        del features[number]
    else:
        features[number] = features[number].changed(height_mm=at)
    return tree.changed(features=tuple(features))


def _grafted(tree: Tree, height_mm: float | None) -> Tree:
    last = tree.measure.changed(graft_height_mm=height_mm)
    return tree.changed(measures=(*tree.measures[:-1], last))


def reader_words(found: PhotoMeasures, height_mm: float, u: Units) -> str:
    """What the reader says at a height."""
    cross = found.profile.at(height_mm)
    if cross is None or not isinstance(cross.width.value, float):
        return f"{u.mm(height_mm)} above the soil the trunk is {'hidden' if cross is None else 'in doubt'}"
    return (
        f"{u.mm(height_mm)} above the soil the trunk is {u.mm(cross.width.value)} wide, "
        f"± {u.figure(cross.width.plus_minus or 0)}"
    )


def depth_lines(tree: Tree, found: PhotoMeasures, school: School, purpose: str, used: str, u: Units) -> tuple[str, ...]:
    """For each station the photograph shows: the depth of pot it would ask for."""
    lines = []
    for station, field in (
        ("soil", "trunk_at_soil_mm"), ("above_flare", "trunk_diameter_mm"), ("mid_trunk", "trunk_mid_mm"),
    ):  # fmt: skip
        reading = found.trunk.get(station)
        if reading is None or not isinstance(reading.value, float):
            continue
        seen = tree.changed(measures=(*tree.measures[:-1], tree.measure.changed(**{field: reading.value})))
        depth = bands(seen, school, purpose, station).depth
        if depth.low is None or depth.high is None:
            continue
        mark = " (in use)" if station == used else ""
        lines.append(f"{STATION_WORDS[station]} {u.figure(reading.value)}: {u.band(depth.low, depth.high)} deep{mark}")
    return tuple(lines)


def station_words(tree: Tree, used: str) -> str:
    """Why the trunk is taken there, and what this style asks to look at."""
    return " ".join(x for x in (f"Taken {WHY_STATION[used]}.", SPECIAL.get(tree.style, "")) if x)


def taper_words(found: PhotoMeasures, u: Units) -> str:
    """What the profile says of the taper; empty for one that thins upward."""
    seen = found.profile.reverse_taper()
    if seen is None:
        return ""
    waist, bulge, share = seen
    return f"The trunk thickens again above {u.mm(waist)}: {share:.0%} more at {u.mm(bulge)}."
