"""Step Brief: what the next pot must do."""

from kesh.ui.rooms.room import Room
from kesh.ui.session import Session


def _note(s: Session) -> tuple[str, bool]:
    brief = s.collection.briefs.get(s.tree_id)
    return (s.case().school.name.lower() if brief and s.tree else "not yet" if s.tree else "", brief is not None)


BRIEF = Room(
    "brief", "step", "Brief", "What the next pot must do", "kesh.ui.rooms.brief.face:BriefFace", note=_note,
    also="school proportion rule of thirds season purpose limits stand horizon budget mix soil",
)  # fmt: skip
