"""Step Water as it is shown: the year of the pot in hand beside others of the line-up."""

from functools import partial

from kesh.advice.case import Case
from kesh.advice.pot_year import PotYear, asked_of, years_of
from kesh.model import Pot
from kesh.ui.rooms.room import Context, Face, Room
from kesh.ui.rooms.water.panel import WaterPanel
from kesh.ui.rooms.water.sheet import YearSheet
from kesh.ui.state.water import YearChart, chart_of, title_words

OTHERS = 2


class WaterFace(Face):
    """Reckons in the background; what is in sight stays until the new years are there."""

    def __init__(self, room: Room, context: Context) -> None:
        super().__init__(room, context)
        self.year, self.beside = YearSheet(context.session, context.gallery), WaterPanel(context.session)
        self.sheet, self.panel = self.year, self.beside
        self._asked: object = None
        self._charts: tuple[YearChart, ...] = ()

    def px_mm(self) -> float:
        # a chart has no scale in mm
        return 0.0

    def title(self) -> str:
        if self.session.tree is None:
            return "No tree yet"
        return title_words(self._charts[0]) if self._charts else "The year in this pot"

    def _stands(self) -> tuple[tuple[Case, Pot], ...]:
        """The tree in the chosen pot or the present one, and in others of the line-up."""
        s = self.session
        lineup, held = s.collection.lineups.get(s.tree_id), s.collection.pots
        present = s.pot.id if s.pot is not None else None
        first = lineup.chosen if lineup is not None and lineup.chosen in held else present
        keys = [first, present, *(lineup.pots if lineup is not None else ())]
        wanted = [k for k in dict.fromkeys(keys) if k is not None and k in held][: OTHERS + 1]
        return tuple((s.case(key) if key == present else s.lineup_case(), held[key]) for key in wanted)

    def refresh(self) -> None:
        self.beside.refresh()
        s = self.session
        stands = self._stands() if s.tree is not None else ()
        if not stands:
            told = (
                "No tree yet. Add one in step 1."
                if s.tree is None
                else "The tree stands in no pot yet. Choose one in the line-up."
            )
            self._show((), (), told)
            return
        asked = asked_of(s.brief.keeping)
        key = (tuple((c.tree, c.brief, c.planting, c.mix, c.site, p) for c, p in stands), asked, s.units)
        if key == self._asked:
            return
        self._asked = key
        apart = self.context.runner.apart
        self.context.runner.start(
            "year in a pot", lambda: apart(partial(years_of, stands, asked)), partial(self._done, stands, key)
        )

    def _done(self, stands: tuple[tuple[Case, Pot], ...], key: object, found: tuple[PotYear | str, ...]) -> None:
        if key != self._asked:
            return
        charts = tuple(
            chart_of(pot, one) for (_, pot), one in zip(stands, found, strict=True) if not isinstance(one, str)
        )
        first = found[0]
        self._show(found, () if isinstance(first, str) else charts, first if isinstance(first, str) else "")

    def _show(self, found: tuple[PotYear | str, ...], charts: tuple[YearChart, ...], sentence: str) -> None:
        if not found:
            self._asked = None
        self._charts = charts
        self.year.show_charts(charts, sentence[:1].upper() + sentence[1:])
        self.beside.show_years(found, charts)
        self.turned.emit()

    def drafted(self) -> None:
        """A year is not reckoned in every frame of a drag."""

    def entered(self) -> None:
        self.refresh()

    def tree_changed(self) -> None:
        # the year of another tree must not stand under this one's name
        self._asked, self._charts = None, ()
        self.year.show_charts((), "")
        self.beside.show_years((), ())

    def file_changed(self) -> None:
        self._asked, self._charts = None, ()
