"""Special plantings without a window: which kind, its fields as rows, and what a hand on the drawing changes."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from kesh.advice.kinds.kinds import KIND_ROWS, kind_of
from kesh.advice.kinds.rock import rock_for
from kesh.advice.kinds.shared import graft_sector
from kesh.base.errors import FieldError
from kesh.desk.ids import fresh_id
from kesh.model import Collection, Planting, Pot, Record, Sector, Tree
from kesh.model.special import Companion, Graft
from kesh.store.collection_file import Change

Sort = Literal["mm", "deg", "count", "number", "choice", "flag", "date", "text"]


@dataclass(frozen=True)
class FieldRow:
    """One field of a kind's record: its name there, its label, what it is, and its choices. `blank` may be left empty."""

    name: str
    label: str
    sort: Sort
    tip: str = ""
    options: tuple[tuple[str, str], ...] = ()
    blank: bool = True


FIELD_ROWS: Mapping[str, tuple[FieldRow, ...]] = {
    "rock": (
        FieldRow("depth_mm", "Depth", "mm", "Front to back where it is widest", blank=False), FieldRow("sunk_mm", "Sunk", "mm", "How much stands in the soil", blank=False),
        FieldRow("x_mm", "Right", "mm", "Of the pot's middle", blank=False), FieldRow("y_mm", "Back", "mm", "Of the pot's middle", blank=False),
        FieldRow("density_kg_l", "Density, kg/l", "number", "2.6 for most stone; lava 1.2, tufa 1.6", blank=False), FieldRow("wire_mm", "Wire", "mm", "Soft wire over rubber", blank=False),
        FieldRow("held", "Held", "choice", options=(("free", "stands free"), ("wires", "tied, two wires"), ("pin", "set on a pin"))),
    ),
    "tube": (
        FieldRow("inside_mm", "Inside", "mm", "Of the tube; the pot's own without it"), FieldRow("length_mm", "Length", "mm", "Of the tube; the pot's depth without it"),
        FieldRow("top_mm", "Bundle above", "mm", "Across the tied roots at the trunk"), FieldRow("foot_mm", "Bundle below", "mm", "Across at their foot"),
        FieldRow("root_mm", "Thickest root", "mm"), FieldRow("root_length_mm", "Roots hang", "mm", "After the cage is wound"),
        FieldRow("pitch_mm", "Pitch", "mm", "From turn to turn; by rule without it"), FieldRow("turns", "Turns", "count", "By rule without them"),
        FieldRow("wire_mm", "Wire", "mm", "By rule without it"), FieldRow("lower_mm_year", "Lowered a year", "mm", blank=False),
        FieldRow("from_", "First lowering", "date"), FieldRow("floor", "Floor", "choice", options=(("mesh", "mesh on bars"), ("board", "board with holes"), ("tape", "layers of tape"), ("none", "none"))),
    ),
    "layer": (
        FieldRow("root_class", "New roots", "choice", options=(("few", "few and short"), ("some", "some, half round"), ("full", "full, all round"))),
        FieldRow("roots_at_mm", "Roots above cut", "mm", "Where they come out, over the cut's place as zero", blank=False), FieldRow("cut_mm", "Cut at", "mm", "By rule 10 mm under the roots"),
        FieldRow("spread_mm", "Root spread", "mm"), FieldRow("depth_mm", "Root depth", "mm"), FieldRow("ringed", "Ringed", "date"), FieldRow("severed", "Cut free", "date"),
    ),
    "tub": (
        FieldRow("stem_mm", "Stem", "mm", "From the soil to the first branch"), FieldRow("stake_mm", "Stake ends", "mm", "Over the soil; by rule without it"),
        FieldRow("staked", "Staked", "flag"), FieldRow("mulch_mm_year", "Mulch a year", "mm", blank=False),
        FieldRow("step_mm", "Step all round", "mm", "From the root mass to the next tub's wall, within 15 mm", blank=False),
    ),
    "desert": (
        FieldRow("highest_root_mm", "Highest root", "mm", "Over the old soil line; below it with a minus", blank=False), FieldRow("soil_mm", "Soil now", "mm", "Over the old soil line"),
        FieldRow("dry_days", "Dry days", "number", "After the roots were cut", blank=False), FieldRow("crown_roofed", "Crown out of rain", "flag"),
        FieldRow("winter", "Winter", "choice", options=(("dry_warm", "warm and dry"), ("dry_cool", "cool and dry"), ("out", "outside"))),
    ),
    "cutting": (
        FieldRow("grip_mm", "Stands deep", "mm", "The pot's own depth without it"), FieldRow("support", "Held by", "choice", options=(("depth", "its depth"), ("stones", "stones"), ("rods", "rods"))),
        FieldRow("set_on", "Set on", "date"), FieldRow("callus_days", "Dry days", "number", "Before it is set or watered", blank=False),
        FieldRow("paste", "Paste above", "flag"), FieldRow("hormone", "Hormone below", "flag"),
        FieldRow("planted", "Set", "count", blank=False), FieldRow("alive", "Alive", "count"), FieldRow("rooted", "Rooted", "count"),
    ),
    "companion": (
        FieldRow("name", "Name", "text"), FieldRow("species", "Species", "text", "A key of the species table, such as rowan"),
        FieldRow("from_deg", "From", "deg", "Clockwise from the front, seen from above", blank=False), FieldRow("to_deg", "To", "deg", "Clockwise from the front", blank=False),
        FieldRow("reach_share", "Of the reach", "number", "0 to 1, counted from outside", blank=False), FieldRow("height_mm", "Height", "mm"), FieldRow("trunk_mm", "Trunk", "mm"),
        FieldRow("keep_soil", "Keeps its soil", "flag"),
    ),
    "slab": (
        FieldRow("mound_mm", "Mound", "mm", blank=False), FieldRow("ring", "Ring", "choice", options=(("clay_mud", "clay mud"), ("moss", "moss"), ("none", "none"))),
        FieldRow("ring_wide_mm", "Ring wide", "mm", blank=False), FieldRow("ring_high_mm", "Ring high", "mm", blank=False),
        FieldRow("reach_x_mm", "Half length", "mm", "Of the mound; as far as the slab lets it"), FieldRow("reach_y_mm", "Half width", "mm"),
    ),
    "aerial": (
        FieldRow("from_mm", "Leaves at", "mm", "Over the soil", blank=False), FieldRow("out_mm", "Lands beside", "mm", "To the right of the place it leaves", blank=False),
        FieldRow("length_mm", "Length now", "mm"), FieldRow("diameter_mm", "Thick", "mm", blank=False), FieldRow("since", "Since", "date"),
        FieldRow("guide", "Guide", "choice", options=(("straw", "slit straw"), ("split_tube", "split tube"), ("none", "none"))),
    ),
    "graft": (
        FieldRow("azimuth_deg", "Stands at", "deg", "Clockwise from the front, seen from above", blank=False), FieldRow("half_deg", "Half sector", "deg", blank=False),
        FieldRow("height_mm", "Join over soil", "mm", blank=False), FieldRow("scion_mm", "Scion thick", "mm", blank=False), FieldRow("set_on", "Set on", "date"),
        FieldRow("grows_alone", "Grows on its own", "flag"),
    ),
    "cascade": (FieldRow("counterweight_kg", "Stone on the floor, kg", "number", "Laid clear of the holes"),),
}  # fmt: skip


def kind_choices() -> dict[str, str]:
    """Every kind by its words."""
    return {row.key: row.words for row in KIND_ROWS.values()}


def rows_of(kind: str) -> tuple[FieldRow, ...]:
    """The fields of a kind."""
    row = KIND_ROWS[kind]
    return FIELD_ROWS.get(row.field or kind, ())


def record_of(planting: Planting, kind: str) -> Record | None:
    """What the fields of a kind are read from: its own record, or the planting itself where it has none."""
    field = KIND_ROWS[kind].field
    found: Record | None = getattr(planting, field) if field else planting
    return found


def with_kind(planting: Planting, kind: str, tree: Tree, pot: Pot) -> Planting:
    """The planting as another kind; a record to begin with where the kind needs one. Nothing entered before is lost. Raises FieldError."""
    if kind not in KIND_ROWS:
        raise FieldError("kind", f"'{kind}' is no kind of planting; known are {', '.join(KIND_ROWS)}")
    row = KIND_ROWS[kind]
    changes: dict[str, object] = {"kind": kind}
    if row.field and getattr(planting, row.field) is None:
        rock = kind == "rock"
        changes[row.field] = rock_for(tree, pot.length_mm) if rock else row.start
        if rock:
            changes["raise_mm"] = seated_mm(planting.changed(rock=changes["rock"]), pot)
    return planting.changed(**changes)


def seated_mm(planting: Planting, pot: Pot) -> float:
    """How high over the rim a tree's foot stands on top of its rock."""
    rock = planting.rock
    if rock is None:
        return planting.raise_mm
    headspace = 6.0 if planting.headspace_mm is None else planting.headspace_mm
    top = max(z for _, z in rock.points_mm)
    return round(top - rock.sunk_mm - headspace - 0.04 * top, 1)


def with_field(planting: Planting, kind: str, name: str, value: object, pot: Pot) -> Planting:
    """One field of a kind changed. Raises FieldError naming it."""
    field = KIND_ROWS[kind].field
    if not field:
        return planting.changed(**{name: value})
    record = getattr(planting, field)
    if record is None:
        record = KIND_ROWS[kind].start
    if record is None:
        raise FieldError(name, f"there is nothing of it yet; choose {KIND_ROWS[kind].words.lower()} first")
    made = planting.changed(**{field: record.changed(**{name: value}), "kind": planting.kind or kind})
    if field == "rock" and name in ("sunk_mm", "points_mm"):
        made = made.changed(raise_mm=seated_mm(made, pot))
    return made


def title_of(kind: str) -> str:
    """The view's button."""
    return KIND_ROWS[kind].words


def shown_kind(planting: Planting | None, tree: Tree | None) -> str:
    """The kind in sight."""
    return "plain" if tree is None else kind_of(planting, tree)


# --- what follows in other records -----------------------------------------------------------------------------------


def second_card(c: Collection, tree: Tree, row: Companion) -> list[Change]:
    """A card for the second plant of a pot, with what was copied; the first keeps its own."""
    from kesh.advice.kinds.shared import second_tree

    key = fresh_id(set(c.trees), (row.name or f"{tree.id} second").lower().replace(" ", "-"))
    made = second_tree(tree, row, key)
    return [("tree", key, made)]


def guarded(tree: Tree, row: Graft) -> Tree:
    """The tree with the graft's sector among the sides that are left alone. Raises FieldError without a root mass."""
    roots = tree.roots
    if roots is None:
        raise FieldError("roots", "there is no root mass yet: measure it in step 1")
    low, high = graft_sector(row)
    made = Sector(from_deg=low, to_deg=high, why="approach graft")
    kept = tuple(s for s in roots.untouched if s.why != "approach graft")
    return tree.changed(root_masses=(*tree.root_masses[:-1], roots.changed(untouched=(*kept, made))))
