"""Step Roots as it is shown: the map in section and plan, the plan of what goes beside it."""

from typing import Any

from kesh.advice.assess import Assessment
from kesh.ui.paint.roots_sheet import seat_words
from kesh.ui.rooms.room import Context, Face, Room
from kesh.ui.rooms.roots.panel import RootPanel
from kesh.ui.rooms.roots.sheet import RootMapSheet


class RootsFace(Face):
    """One drawing, one plan; the pot is the one that is chosen for the tree, or the one it stands in."""

    def __init__(self, room: Room, context: Context) -> None:
        super().__init__(room, context)
        self.view = "now"
        s, c = context.session, context
        self.map = RootMapSheet(s, c.gallery, c.darkroom)
        self.beside = RootPanel(s, self.map)
        self.sheet, self.panel = self.map, self.beside
        self.map.chosen.connect(lambda _: self.beside.refresh())
        self.beside.wanted.connect(self.map.take)
        self.beside.wanted_part.connect(self.map.take_part)

    def assessment(self) -> Assessment | None:
        return self.map.assessment

    def title(self) -> str:
        a, tree = self.map.assessment, self.session.tree
        if tree is None:
            return "No tree yet"
        if a is None:
            return f"{tree.name} stands in no pot yet"
        plan = self.map.plan()
        goes = [] if plan is None else [s for s in plan.steps if s.action != "keep" and s.year == 0]
        if goes:
            return f"{len(goes)} root{'' if len(goes) == 1 else 's'} to cut now; {seat_words(a, self.session.units)}"
        return f"No root has to go; {seat_words(a, self.session.units)}" if plan else "Draw the roots you know of"

    def views(self) -> tuple[tuple[str, str], ...]:
        steps = self.map.step_views()[1:]
        chosen = self._chosen()
        old = (("old", "Present pot"),) if chosen is not None and self.session.pot is not None else ()
        names = [step.when for step in steps]
        if not names:
            return (("now", "Now"), *old) if old else ()
        return (("now", "Now"), *((f"after{n + 1}", name) for n, name in enumerate(names[:3])), *old)

    def show_view(self, key: str) -> None:
        self.view = key
        self._in_hand()
        self.map.after = int(key.removeprefix("after")) if key.startswith("after") else 0
        self.map.update()
        super().show_view(key)

    def keys(self) -> str:
        return "R takes a root   P pocket   S side left alone   L lens   N room   U photograph   G takes a grip"

    def _chosen(self) -> str | None:
        """The pot that is chosen in the line-up, None where it is the present one or there is none."""
        lineup = self.session.collection.lineups.get(self.session.tree_id)
        chosen = lineup.chosen if lineup and lineup.chosen in self.session.collection.pots else None
        present = self.session.pot
        return None if chosen is None or (present is not None and present.id == chosen) else chosen

    def _in_hand(self) -> None:
        """Cut through the chosen pot of the line-up where there is one; in the view of the old pot through the present one."""
        pot = None if self.view == "old" else self._chosen()
        if pot != self.map.pot_id:
            self.map.pot_id = pot
            self.map.refit()

    def refresh(self) -> None:
        self._in_hand()
        if self.view not in [key for key, _ in self.views()]:
            # the plan has fewer repottings now
            self.view, self.map.after = "now", 0
        self.map.refit()
        self.map.update()
        self.beside.refresh()

    def drafted(self) -> None:
        self.map.update()
        self.beside.follow()

    def entered(self) -> None:
        self.refresh()

    def arrive(self, **what: Any) -> None:
        if "root" in what:
            self.map.take(str(what["root"]))

    def tree_changed(self) -> None:
        self.map.root_id, self.map.part = "", None
