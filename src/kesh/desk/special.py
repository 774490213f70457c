"""Special plantings without a window: which kind, its fields as rows, and what a hand on the drawing changes."""

from kesh.advice.kinds.companion import second_tree
from kesh.advice.kinds.graft import graft_sector
from kesh.advice.kinds.kind import FieldRow, Grip
from kesh.advice.kinds.kinds import kind_rows, worked_as
from kesh.advice.kinds.plan import Setting
from kesh.advice.kinds.registry import kinds
from kesh.base.errors import FieldError
from kesh.desk.ids import fresh_id
from kesh.model import Collection, Planting, Pot, Record, Sector, Tree
from kesh.model.special import Companion, Graft
from kesh.reference.tables import Species
from kesh.store.collection_file import Change


def kind_choices() -> dict[str, str]:
    """Every kind by its words."""
    return {row.key: row.words for row in kind_rows().values()}


def rows_of(kind: str) -> tuple[FieldRow, ...]:
    """The fields of a kind."""
    return kinds()[kind].fields


def record_of(planting: Planting, kind: str) -> Record | None:
    """What the fields of a kind are read from: its own record, or the planting itself where it has none."""
    field = kind_rows()[kind].field
    found: Record | None = getattr(planting, field) if field else planting
    return found


def with_kind(planting: Planting, kind: str, tree: Tree, pot: Pot) -> Planting:
    """The planting as another kind; a record to begin with where the kind needs one. Nothing entered before is lost. Raises FieldError."""
    one = kinds().get(kind)
    if one is None:
        raise FieldError("kind", f"'{kind}' is no kind of planting; known are {', '.join(kinds())}")
    field = one.row.field
    if not field or one.start is None or getattr(planting, field) is not None:
        return planting.changed(kind=kind)
    return one.seated(planting.changed(**{"kind": kind, field: one.start(tree, pot)}), pot)


def with_field(planting: Planting, kind: str, name: str, value: object, tree: Tree, pot: Pot) -> Planting:
    """One field of a kind changed; a record is begun where there is none. Raises FieldError naming it."""
    one = kinds()[kind]
    field = one.row.field
    if not field:
        return planting.changed(**{name: value})
    if getattr(planting, field) is None:
        planting = with_kind(planting, kind, tree, pot)
    record = getattr(planting, field).changed(**{name: value})
    made = planting.changed(**{field: record, "kind": planting.kind or kind})
    return one.seated(made, pot) if name in one.seats else made


def grips(s: Setting, kind: str) -> list[Grip]:
    """Every handle of a kind, in the order G walks them."""
    return kinds()[kind].grips(s)


def pulled(s: Setting, key: str, x_mm: float, y_mm: float) -> Planting:
    """The planting after a grip was pulled to a place of its view. Raises FieldError."""
    p = s.planting
    if key == "trunk":
        return p.changed(offset_x_mm=round(x_mm, 1), raise_mm=round(y_mm - s.a.pot.height_mm, 1))
    field, what, *rest = key.split(":") if ":" in key else (key, "")
    one = next((k for k in kinds().values() if k.row.field == field), None)
    if one is None or one.pull is None or getattr(p, field) is None:
        raise FieldError(key, f"'{key}' is nothing that is moved")
    return one.pull(s, what, rest, x_mm, y_mm)


def title_of(kind: str) -> str:
    """The view's button."""
    return kind_rows()[kind].words


def shown_kind(planting: Planting | None, tree: Tree | None, species: Species | None) -> str:
    """The kind in sight: the one whose steps are done."""
    return "plain" if tree is None else worked_as(planting, tree, species)


# --- what follows in other records -----------------------------------------------------------------------------------


def second_card(c: Collection, tree: Tree, row: Companion) -> list[Change]:
    """A card for the second plant of a pot, with what was copied; the first keeps its own."""
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
