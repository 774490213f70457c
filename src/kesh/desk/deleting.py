"""What goes with a tree or a pot when it is deleted, as one step that can be undone. No Qt here."""

from kesh.base.words import comma_and, counted
from kesh.model import Collection

Changes = list[tuple[str, str, object]]


def without_tree(collection: Collection, tree: str) -> tuple[Changes, str]:
    """(changes, what else goes) for a tree: its plantings, brief, line-up, log, rejections, overrides, readings and photographs.

    The pot it stood in goes back to the shelf; designs made for it stay and are no longer for anybody.
    """
    c = collection
    changes: Changes = [("tree", tree, None)]
    photos = [("photo", p.id, None) for p in c.photos.values() if p.tree == tree]
    events = [("event", e.id, None) for e in c.events if e.tree == tree]
    changes += [("planting", p.id, None) for p in c.plantings if p.tree == tree]
    changes += [("brief", tree, None)] if tree in c.briefs else []
    changes += [("lineup", tree, None)] if tree in c.lineups else []
    changes += [*events, *photos]
    changes += [("rejection", r.id, None) for r in c.rejections if r.tree == tree]
    changes += [("override", o.id, None) for o in c.overrides if o.tree == tree]
    readings = [("reading", r.id, None) for r in c.readings if r.tree == tree]
    changes += readings
    changes += [("task", t.id, None) for t in c.tasks if t.tree == tree]
    changes += [("answer", a.id, None) for a in c.answers if a.tree == tree]
    changes += [("work", w.id, None) for w in c.works.values() if w.id == tree]
    now = c.planting_of(tree)
    for pot in c.pots.values():
        fields = {"made_for": None} if pot.made_for == tree else {}
        if pot.reserved is not None and pot.reserved.tree == tree:
            fields["reserved"] = None
        if now is not None and now.pot == pot.id and pot.state == "in_use" and not c.others_in(pot.id, tree):
            fields["state"] = "shelf"  # type: ignore[assignment]
        if fields:
            changes.append(("pot", pot.id, pot.changed(**fields)))
    parts = [
        counted(n, word)
        for n, word in ((len(photos), "photograph"), (len(events), "log entry"), (len(readings), "reading"))
        if n
    ]
    return changes, f" with {comma_and(parts)}" if parts else ""


def without_pot(collection: Collection, pot: str) -> tuple[Changes, str]:
    """(changes, what else goes) for a pot: it leaves line-ups, plantings and rejections; log entries keep their words."""
    c = collection
    changes: Changes = [("pot", pot, None)]
    plantings = [p for p in c.plantings if p.pot == pot]
    changes += [("planting", p.id, None) for p in plantings]
    changes += [("rejection", r.id, None) for r in c.rejections if r.pot == pot]
    changes += [("work", w.id, None) for w in c.works.values() if w.pot == pot]
    changes += [("order", o.id, None) for o in c.orders.values() if o.pot == pot]
    changes += [("task", t.id, None) for t in c.tasks if t.pot == pot]
    for lineup in c.lineups.values():
        if pot in lineup.pots or lineup.chosen == pot:
            kept = tuple(p for p in lineup.pots if p != pot)
            trials = tuple(t for t in lineup.trials if t.pot != pot)
            chosen = None if lineup.chosen == pot else lineup.chosen
            changes.append(("lineup", lineup.id, lineup.changed(pots=kept, trials=trials, chosen=chosen)))
    changes += [("event", e.id, e.changed(pot=None)) for e in c.events if e.pot == pot]
    standing = [c.trees[p.tree].name for p in plantings if p.ended is None and not p.planned and p.tree in c.trees]
    return (
        changes,
        f"; {comma_and(standing)} stand{'s' if len(standing) == 1 else ''} in no pot now" if standing else "",
    )
