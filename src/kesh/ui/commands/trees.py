"""Trees as a list: one before, one after, a new one, one away; the device; and writing down that a tree was repotted."""

from pathlib import Path

from kesh.advice.planting.meant import planting_in
from kesh.advice.planting.plan import PlantingPlan
from kesh.base.errors import FieldError
from kesh.desk.deleting import without_tree
from kesh.desk.potting import potted
from kesh.store.collection_file import Change
from kesh.ui.rooms.room import Command, Context

FREE_IT, BOTH_STAND = "Take {} out of it first", "Both stand in it from now on"


def delete_tree(c: Context) -> None:
    """Take the tree in hand out of the collection with what hangs on it; undo brings all of it back."""
    s = c.session
    if s.tree is None:
        raise FieldError("tree", "there is no tree in hand")
    name = s.tree.name
    changes, told = without_tree(s.collection, s.tree_id)
    if s.edit(f"{name} deleted", changes):
        c.say("fits", f"{name} deleted{told}; Ctrl+Z brings it back")


def device(c: Context) -> None:
    """A calliper or scale on a serial line, let go when one is connected already."""
    line = c.desk.device()
    if line.connected:
        line.let_go()
        c.say("fits", "The device is let go")
        return
    path = c.asker.open_file(c.desk.parent_widget(), "Line of the calliper or scale", Path("/dev"), "Serial lines (*)")
    if path is not None:
        line.connect_to(path)
        c.say("fits", f"Connected: {path.name}. A reading lands in the field with the cursor")


def repotted(c: Context, *, cut: bool = True) -> None:
    """The chosen pot becomes the present one from today on; the log keeps what was planned, the root mass is the one left.

    Raises FieldError when no pot is chosen, or when another tree stands in it and nobody said what becomes of it.
    """
    s = c.session
    lineup = s.collection.lineups.get(s.tree_id)
    pot = s.collection.pots.get(lineup.chosen) if lineup and lineup.chosen else None
    if s.tree is None or lineup is None or pot is None:
        raise FieldError("line-up", "no pot is chosen yet; choose one in step 3")
    a = s.planned_in(pot.id)
    if a is None or a.fault:
        raise FieldError("pot", a.fault if a is not None else "it is not in this collection any more")
    changes: list[Change] = _room_made(c, pot.id)
    planting = planting_in(s.collection, s.tree_id, pot)
    changes += potted(s.collection, PlantingPlan(a, s.units), planting, s.today, cut=cut)
    if s.edit(f"Repotted into {pot.name}", changes):
        c.go("tree")
        u, left = s.units, s.tree.roots
        if cut and left is not None and left.seen == s.today:
            size = f"{u.figure(left.length_mm)} × {u.figure(left.width_mm)} × {u.mm(left.depth_mm)}"
            c.say("fits", f"Written as planned; the root mass is {size} now. Was it done otherwise, correct it below")


def _room_made(c: Context, pot: str) -> list[Change]:
    """Nobody puts two trees into one pot without meaning it."""
    s = c.session
    others = s.collection.others_in(pot, s.tree_id)
    if not others:
        return []
    names = " and ".join(s.collection.trees[p.tree].name for p in others)
    free = FREE_IT.format(names)
    said = c.asker.choose(
        c.desk.parent_widget(),
        "The pot is not free",
        f"{names} stands in {s.collection.pots[pot].name}.",
        [free, BOTH_STAND],
    )
    if said is None:
        raise FieldError("pot", f"{names} stands in it; choose another pot, or free it first")
    return [("planting", p.id, p.changed(ended=s.today)) for p in others] if said == free else []


TREES = (
    Command("tree_before", "The tree before", "[", "Trees", lambda c: c.session.step_tree(-1)),
    Command("tree_after", "The tree after", "]", "Trees", lambda c: c.session.step_tree(1)),
    Command("find", "Find a tree, species or pot", "Ctrl+F", "Trees", lambda c: c.desk.find_here()),
    Command("delete_tree", "Delete the tree in hand", "Ctrl+Backspace", "Trees", delete_tree),
    Command("device", "Connect or disconnect calliper or scale", "Ctrl+Shift+D", "Trees", device),
    Command("repotted", "Write down: potted today, roots cut as planned", "Ctrl+R", "Trees", repotted),
    Command(
        "slipped",
        "Write down: slipped into its pot, nothing cut",
        "Ctrl+Shift+R",
        "Trees",
        lambda c: repotted(c, cut=False),
    ),
)
