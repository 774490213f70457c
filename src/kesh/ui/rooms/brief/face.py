"""Step Brief as it is shown."""

from functools import partial

from kesh.advice.case import Case
from kesh.advice.sensitivity import sensitivity
from kesh.model import Pot
from kesh.ui.rooms.brief.panel import BriefPanel
from kesh.ui.rooms.brief.sheet import BriefSheet
from kesh.ui.rooms.room import Context, Face, Room


class BriefFace(Face):
    """Bands of every school beside the present pot; purpose, judge and limits beside them."""

    def __init__(self, room: Room, context: Context) -> None:
        super().__init__(room, context)
        self.bands = BriefSheet(context.session, context.gallery)
        self.wishes = BriefPanel(context.session)
        self.sheet, self.panel = self.bands, self.wishes
        self.findings = self.wishes.findings
        self.wishes.lineup.clicked.connect(lambda: context.go("line-up"))
        self._weighed: tuple[Case, tuple[Pot, ...]] | None = None

    def title(self) -> str:
        s = self.session
        if s.tree is None:
            return "No tree yet"
        depth, length, u = s.case().bands.depth, s.case().bands.length, s.units
        if depth.low is None or depth.high is None or length.low is None or length.high is None:
            return "Trunk, height and spread would give the sizes asked for"
        return f"Asked for: {u.band(depth.low, depth.high)} deep, {u.figure(length.low)}–{u.figure(length.high)} long"

    def refresh(self) -> None:
        self.bands.refit()
        self.bands.update()
        self.wishes.refresh()
        self._weigh_measures()

    def drafted(self) -> None:
        self.bands.update()
        self.wishes.refresh()

    def entered(self) -> None:
        self.refresh()

    def _weigh_measures(self) -> None:
        """Ask in the background which measure moves the advice most."""
        s = self.session
        if s.tree is None:
            return
        case, held = s.case(), {*s.lineup().pots, s.pot.id if s.pot else ""}
        pots = tuple(p for p in s.shelf if p.id in held)
        if self._weighed is not None and self._weighed[0] is case and self._weighed[1] == pots:
            # asked of this very case: the answer is shown, or on its way
            return
        self._weighed = case, pots
        apart = self.context.runner.apart
        self.context.runner.start(
            "sensitivity", lambda: apart(partial(sensitivity, case, pots)), self.wishes.show_influences
        )
