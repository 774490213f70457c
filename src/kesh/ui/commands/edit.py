"""Undo and do again; moving among views and findings of the sheet."""

from kesh.ui.rooms.room import Command

EDIT = (
    Command("next_view", "Next view of the sheet", "V", "Sheet", lambda c: c.desk.next_view()),
    Command("finding_before", "Finding before", ",", "Sheet", lambda c: c.desk.walk_findings(-1)),
    Command("finding_after", "Finding after", ".", "Sheet", lambda c: c.desk.walk_findings(1)),
    Command("undo", "Undo", "Ctrl+Z", "Edit", lambda c: c.session.undo()),
    Command("redo", "Do again", "Ctrl+Y", "Edit", lambda c: c.session.redo(), ("Ctrl+Shift+Z",)),
)
