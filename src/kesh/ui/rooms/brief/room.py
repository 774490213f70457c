"""Step Brief: what the next pot must do."""

from kesh.advice.case import default_brief
from kesh.ui.rooms.room import Room
from kesh.ui.session import Session


def _note(s: Session) -> tuple[str, bool]:
    brief, tree = s.collection.briefs.get(s.tree_id), s.tree
    if tree is None:
        return "", False
    # one that says what every brief says before anybody looked at it is none yet
    said = brief is not None and brief != default_brief(tree)
    return (s.case().school.name.lower() if said else "not yet", said)


BRIEF = Room(
    "brief", "step", "Brief", "What the next pot must do", "kesh.ui.rooms.brief.face:BriefFace", note=_note,
    also="school proportion rule of thirds season purpose limits stand horizon budget mix soil",
)  # fmt: skip
