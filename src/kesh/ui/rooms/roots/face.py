"""Step Roots as it is shown: the map in section and plan, the plan of what goes beside it."""

from typing import Any

from kesh.science.root_plan import repotting_years
from kesh.ui.rooms.room import Context, Face, Room
from kesh.ui.rooms.roots.panel import RootPanel
from kesh.ui.rooms.roots.sheet import RootMapSheet
from kesh.ui.sheet.roots_sheet import seat_words


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
        plan = self.map.plan()
        years = repotting_years(plan) if plan is not None else ()
        if not years:
            return ()
        names = ("After it", *(f"In {self.session.today.year + round(y)}" for y in years[1:]))
        return (("now", "Now"), *((f"after{n + 1}", name) for n, name in enumerate(names[:3])))

    def show_view(self, key: str) -> None:
        self.map.after = int(key.removeprefix("after")) if key.startswith("after") else 0
        self.map.update()
        super().show_view(key)

    def keys(self) -> str:
        return "R takes a root   arrows turn and stretch it   K keeps it   U photograph   G takes a grip"

    def _in_hand(self) -> None:
        """Cut through the chosen pot of the line-up where there is one."""
        lineup = self.session.collection.lineups.get(self.session.tree_id)
        chosen = lineup.chosen if lineup and lineup.chosen in self.session.collection.pots else None
        present = self.session.pot
        pot = None if chosen is None or (present is not None and present.id == chosen) else chosen
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
        self.beside.refresh()

    def entered(self) -> None:
        self.refresh()

    def arrive(self, **what: Any) -> None:
        if "root" in what:
            self.map.take(str(what["root"]))

    def tree_changed(self) -> None:
        self.map.root_id = ""
