"""Step Line-up as it is shown: columns, overlay, the cut through one pot, the whole shelf in order."""

from functools import partial
from typing import Any

from PyQt6.QtWidgets import QStackedWidget

from kesh.advice.assess import Assessment
from kesh.advice.water.short import PotShort, pots_years, short_of
from kesh.advice.water.year import PotYears, asked_of
from kesh.desk.lineup import none_fits
from kesh.ui.hand.view import SheetView
from kesh.ui.paint.roots_sheet import RootsSheet, seat_words
from kesh.ui.rooms.lineup.panel import LineupPanel
from kesh.ui.rooms.lineup.ranked_list import RankedList
from kesh.ui.rooms.lineup.sheet import LineupSheet
from kesh.ui.rooms.room import BY_GRIPS, Context, Face, Room

# so many pots are reckoned before anybody waits
FEW = 8
COUNT_WORDS = {0: "No pot", 1: "One pot", 2: "Two pots", 3: "Three pots", 4: "Four pots", 5: "Five pots"}


class LineupFace(Face):
    """Four views of the same pots; the panel speaks of the one in hand."""

    def __init__(self, room: Room, context: Context) -> None:
        super().__init__(room, context)
        s, c = context.session, context
        self.columns, self.ranked = LineupSheet(s, c.gallery, c.darkroom), RankedList(s)
        self.roots = RootsSheet(s, c.gallery, c.darkroom)
        self.sheet = QStackedWidget()
        for view in (self.columns, self.roots, self.ranked):
            self.sheet.addWidget(view)
        self.hand = LineupPanel(s)
        self.panel, self.findings = self.hand, self.hand.findings
        self.columns.picked.connect(self._pick)
        self.columns.wanted.connect(s.hold_under)
        self.ranked.wanted.connect(s.hold_under)
        self.ranked.picked.connect(self.hand.show_pot)
        self.columns.laid_over.connect(lambda: self.show_view("columns" if self.view == "overlay" else "overlay"))
        self.hand.colours.seen = self._colours_seen
        self.hand.real_wanted.connect(self._stand_in_pots)
        self.hand.filtered.connect(self._filter)
        self._years_asked: object = None
        self._asked: set[str] = set()
        c.cutter.done.connect(self.columns.update)

    # what is in sight --------------------------------------------------------------------------------------------

    def title(self) -> str:
        s = self.session
        if s.tree is None:
            return "No tree yet"
        if self.view == "roots" and self.roots.assessment is not None:
            a = self.roots.assessment
            return f"{a.pot.name}: {seat_words(a, s.units)}"
        state = s.lineup_state()
        if self.view == "shelf" and state is not None:
            fits = sum(1 for v in state.ranking.verdict if v == 0)
            pots = "One pot" if len(state.ranking) == 1 else f"{len(state.ranking)} pots"
            if not fits:
                return f"{pots} under {s.tree.name}; {none_fits(state.ranking)}"
            return f"{pots} under {s.tree.name}; {fits} fit{'s' if fits == 1 else ''}"
        count = len(state.columns) if state else 0
        return f"{COUNT_WORDS.get(count, f'{count} pots')} for {s.tree.name}"

    def drawing(self) -> SheetView | None:
        shown = self.sheet.currentWidget()  # type: ignore[attr-defined]
        return shown if isinstance(shown, SheetView) else None

    def keys(self) -> str:
        return BY_GRIPS if self.view == "roots" else "arrows move the choice   Space swaps   L lays over"

    def assessment(self) -> Assessment | None:
        """Of the pot in hand."""
        pot = self.session.collection.pots.get(self.hand.pot)
        return self.session.tried(pot) if pot is not None and self.session.tree is not None else None

    def show_view(self, key: str) -> None:
        if key in ("columns", "overlay"):
            self.sheet.setCurrentWidget(self.columns)  # type: ignore[attr-defined]
            self.columns.overlay = key == "overlay"
            self.columns.fit()
            self.columns.refresh()
        elif key == "roots":
            self.columns.refresh()
            self._cut_through()
            self.sheet.setCurrentWidget(self.roots)  # type: ignore[attr-defined]
        else:
            self.sheet.setCurrentWidget(self.ranked)  # type: ignore[attr-defined]
            self.ranked.refresh()
        # the panel speaks of what is in hand in the view in sight
        pointed = self.ranked.pot_in_hand() if key == "shelf" else ""
        if pointed or self.columns.chosen:
            self.hand.show_pot(pointed or self.columns.chosen)
        super().show_view(key)
        self._reckon_years()

    def _cut_through(self) -> None:
        """The section shows the pot in hand."""
        if (self.columns.chosen or None) != self.roots.pot_id:
            self.roots.pot_id = self.columns.chosen or None
            self.roots.refit()
            self.roots.update()

    def _pick(self, pot: str) -> None:
        self._cut_through()
        self.hand.show_pot(pot)
        self.turned.emit()

    def refresh(self) -> None:
        self.columns.refresh()
        self.roots.refit()
        self.roots.update()
        self._cut_through()
        if self.view == "shelf":
            self.ranked.refresh()
        self.hand.refresh()
        self._reckon_years()

    def drafted(self) -> None:
        drawing = self.drawing()
        if drawing is not None:
            drawing.update()
        self.hand.refresh()

    def entered(self) -> None:
        self.show_view(self.view)

    def arrive(self, **what: Any) -> None:
        if "view" in what:
            self.show_view(str(what["view"]))

    def tree_changed(self) -> None:
        self.columns.chosen = ""
        self._years_asked = None
        self._show_years({})

    # the years of the pots, reckoned beside the window ------------------------------------------------------------

    def _reckon_years(self) -> None:
        """The pots of the line-up, and the whole shelf where that is in sight."""
        s, state = self.session, self.session.lineup_state()
        if state is None:
            return
        case, asked = s.lineup_case(), asked_of(s.brief.keeping)
        pots = state.ranking.figures.pots.pots if self.view == "shelf" else [c.pot for c in state.columns]
        key = (case.tree, case.brief, case.planting, case.mix, case.site, tuple(pots), asked)
        if key == self._years_asked or not pots:
            return
        self._years_asked = key
        runner = self.context.runner
        work, done = partial(pots_years, case, tuple(pots), asked), partial(self._years_done, key)
        if len(pots) > FEW:
            runner.start_long("years of pots", "Years of the whole shelf", lambda p: runner.apart(work, p), done)
        else:
            runner.start("years of pots", lambda: runner.apart(work), done)

    def _years_done(self, key: object, found: dict[str, PotYears | str]) -> None:
        if key != self._years_asked:
            return
        # what the years say belongs to the answer whether it lives: the ranking is read again with it
        self.session.keep_years(found)
        self._show_years({pot: short_of(one) for pot, one in found.items() if isinstance(one, PotYears)})
        self.refresh()

    def _show_years(self, years: dict[str, PotShort]) -> None:
        self.columns.years = self.hand.years = years
        self.ranked.show_years(years)
        self.columns.update()
        self.hand.refresh()

    # what is asked of it -----------------------------------------------------------------------------------------

    def _filter(self, states: frozenset[str] | None) -> None:
        self.columns.states = self.ranked.states = states
        self.columns.update()
        if self.view == "shelf":
            self.ranked.refresh()

    def _stand_in_pots(self, on: bool) -> None:
        """Show the real tree in the pots of the line-up, cut out first where it was not yet."""
        self.columns.from_photo = on
        self.columns.update()
        photos = self.session.collection.sides_of(self.session.tree_id)
        if on and photos:
            self.context.cutter.cut_when_due(photos[0])

    def _colours_seen(self) -> dict[str, str]:
        """Colours off the tree's photographs. A picture is read beside the window; its colours follow."""
        room, photos = self.context.darkroom, self.session.collection.sides_of(self.session.tree_id)
        unread = [p for p in photos if p.colours and not room.is_read(p)]
        if {p.picture for p in unread} - self._asked:
            self._asked |= {p.picture for p in unread}
            self.context.runner.start_later("colours", partial(room.read, unread), self._colours_read)
        return room.colours_of([p for p in photos if room.is_read(p) or not p.colours])

    def _colours_read(self, failed: frozenset[str]) -> None:
        # what could not be read is not tried again before another collection is open
        self._asked = set(failed)
        self.hand.refresh()

    def file_changed(self) -> None:
        super().file_changed()
        self._asked.clear()
