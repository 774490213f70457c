"""Step Water as it is shown: one watering with the mix in hand, and the year of the pot in hand beside others of the line-up."""

from dataclasses import replace
from functools import partial
from typing import Any

from PyQt6.QtWidgets import QStackedWidget

from kesh.advice.answers import answers_of
from kesh.advice.assess import Assessment, Finding, assess
from kesh.advice.case import Case
from kesh.advice.figures import figures_for
from kesh.advice.rules.year import year_findings
from kesh.advice.water.watering import Depths, water_by_depth
from kesh.advice.water.year import PotYear, asked_of, years_of
from kesh.base.errors import FieldError
from kesh.desk.ids import fresh_id
from kesh.desk.mixes import next_version, tried
from kesh.desk.planting import planned_for
from kesh.desk.water import YearChart, away_words, chart_of, title_words
from kesh.desk.watering import Watering, title_of, watering_of
from kesh.model import Mix, Pot
from kesh.science.water.drainage import TiltGrid, tilt_grid
from kesh.ui.hand.view import SheetView
from kesh.ui.rooms.room import Context, Face, Room
from kesh.ui.rooms.water.mix_panel import MixPanel
from kesh.ui.rooms.water.panel import WaterPanel
from kesh.ui.rooms.water.sheet import YearSheet
from kesh.ui.rooms.water.watering_sheet import STATES, WateringSheet
from kesh.ui.session import Session

OTHERS = 2
LEAST_INSIDE_MM, MOST_DEEPER_MM = 18.0, 250.0
# a raster for the tilt, coarse enough to follow the hand
TILT_ACROSS, TILT_LAYERS = 56, 28
Stands = tuple[tuple[Case, Pot], ...]


class WaterFace(Face):
    """Reckons years and depths in the background; what is in sight stays until the new ones are there."""

    def __init__(self, room: Room, context: Context) -> None:
        super().__init__(room, context)
        s = context.session
        self.year, self.beside = YearSheet(s, context.gallery), WaterPanel(s)
        self.one, self.mixing = WateringSheet(s, context.gallery), MixPanel(s)
        self.view = "drained"
        self.sheets, self.panels = QStackedWidget(), QStackedWidget()
        for stack, parts in ((self.sheets, (self.one, self.year)), (self.panels, (self.mixing, self.beside))):
            for part in parts:
                stack.addWidget(part)
        self.sheet, self.panel = self.sheets, self.panels
        # what is tried and not kept: a recipe, a tilt, a mound
        self.draft: Mix | None = None
        self.tilt_deg = 0.0
        self.mound_mm: float | None = None
        self._watering: Watering | None = None
        self._depths: Depths | None = None
        self._grid: tuple[object, TiltGrid | None] = (None, None)
        self._asked: object = None
        self._deep: object = None
        self._charts: tuple[YearChart, ...] = ()
        self._told: tuple[Finding, ...] = ()
        self.findings = self.beside.findings
        self.one.tilted.connect(self._tilt)
        self.one.mounded.connect(self._mound)
        self.one.deepened.connect(self._deepen)
        self.mixing.tilted.connect(self._tilt)
        self.mixing.mounded.connect(self._mound)
        self.mixing.trying.connect(self._try)
        self.mixing.recipe.connect(self._recipe)
        self.mixing.keeping.connect(self.keep)
        context.desk.device().moist.connect(self.beside.readings.probed)

    # --- the two views

    def views(self) -> tuple[tuple[str, str], ...]:
        return (*((key, words) for key, words, _ in STATES), ("year", "The year"))

    def show_view(self, key: str) -> None:
        year = key == "year"
        self.sheets.setCurrentWidget(self.year if year else self.one)
        self.panels.setCurrentWidget(self.beside if year else self.mixing)
        if not year:
            self.one.show_state(key if key in [k for k, _, _ in STATES] else "drained")
        super().show_view(key if year or key in [k for k, _, _ in STATES] else "drained")
        self.refresh()

    def drawing(self) -> SheetView:
        return self.year if self.view == "year" else self.one

    def px_mm(self) -> float:
        # a chart has no scale in mm
        return 0.0 if self.view == "year" else self.one.px_mm

    def title(self) -> str:
        if self.session.tree is None:
            return "No tree yet"
        if self.view == "year":
            return title_words(self._charts[0]) if self._charts else "The year in this pot"
        if self._watering is None:
            return "One watering"
        hour = next((h for key, _, h in STATES if key == self.view), 0)
        return title_of(self._watering, self.session.units, hour, self._depths)

    def keys(self) -> str:
        if self.view == "year":
            return super().keys()
        return "Left and right walk the hours   T tilts 1°   up and down the mound   [ ] depth   V next view"

    # --- what stands there

    def _stands(self, *, trial: bool = True) -> Stands:
        """The tree in the chosen pot or the present one, and in others of the line-up, each with the mix that is meant for it."""
        s = self.session
        lineup, held = s.collection.lineups.get(s.tree_id), s.collection.pots
        present = s.pot.id if s.pot is not None else None
        first = lineup.chosen if lineup is not None and lineup.chosen in held else present
        keys = [first, present, *(lineup.pots if lineup is not None else ())]
        wanted = [k for k in dict.fromkeys(keys) if k is not None and k in held][: OTHERS + 1]
        found: list[tuple[Case, Pot]] = []
        for key in wanted:
            case = s.case(key) if key == present or planned_for(s.collection, s.tree_id, key) else s.lineup_case()
            meant = self.kept_mix(case)
            pot = held[key]
            if trial and not found and self.one.deeper_mm:
                # what was measured belongs to the pot as it is
                high = pot.height_mm + self.one.deeper_mm
                pot = pot.changed(height_mm=high, measured_volume_l=None, measured_mass_kg=None)
            found.append((case if meant is None or meant == case.mix else replace(case, mix=meant), pot))
        return tuple(found)

    def kept_mix(self, case: Case | None = None) -> Mix | None:
        """The recipe the tree is meant to have: the brief's, else the one it stands in."""
        s = self.session
        meant = s.collection.mixes.get(s.brief.mix) if s.brief.mix else None
        return meant or (case or s.case()).mix if s.tree is not None else None

    # --- following

    def refresh(self) -> None:
        self.beside.refresh()
        stands = self._stands() if self.session.tree is not None else ()
        if not stands:
            told = (
                "No tree yet. Add one in step 1."
                if self.session.tree is None
                else "The tree stands in no pot yet. Choose one in the line-up."
            )
            self._watering, self._depths = None, None
            self.one.show_watering(None, None, told)
            self.mixing.show_watering(None, self.draft, self.kept_mix(), None)
            # nor may what its years said stay when it left its pot
            self._told = ()
            self.beside.show_findings(())
            self._show((), (), told)
            return
        if self.view == "year":
            self._reckon_years(stands)
        else:
            self._reckon_one(stands)

    def _reckon_one(self, stands: Stands, *, live: bool = False) -> None:
        s, kept = self.session, self.kept_mix(stands[0][0])
        mix = self.draft or kept
        asked = asked_of(s.brief.keeping)
        self._watering = watering_of(
            stands,
            mix,
            self.mound_mm,
            s.today,
            asked,
            self.tilt_deg,
            self._raster(stands[0]) if self.tilt_deg else None,
        )
        first = self._watering.first
        key = (first.f.case.mix, first.f.case.mound_mm, first.pot, first.f.case.tree, asked, s.today)
        if key != self._deep:
            self._depths, self.one.why = None, ""
        self.one.show_watering(self._watering, self._depths)
        self.mixing.show_watering(self._watering, mix, kept, self._depths)
        self.turned.emit()
        if live or key == self._deep:
            return
        self._deep = key
        f, runner = first.f, self.context.runner
        pot, mixes = first.pot, tuple(s.collection.mixes.values())
        if first.curve is not None:
            work = partial(_depths_of, f.case, pot, s.today, asked)
            runner.start("water by depth", lambda: runner.apart(work), lambda found: self._deepened(key, found))
        others = partial(tried, f.case, pot, mixes if mix is None or mix in mixes else (*mixes, mix))
        runner.start("mixes tried", lambda: runner.apart(others), lambda found: self._compared(key, found))

    def _raster(self, stand: tuple[Case, Pot]) -> TiltGrid | None:
        """The soil of the pot in hand as a raster, kept while nothing of it changes; None where it cannot drain."""
        case, pot = stand
        key = (pot, case.headspace_mm)
        if self._grid[0] != key:
            f = figures_for(case, [pot])
            try:
                grid = tilt_grid(f.pots, float(f.soil_depth_mm[0]), across=TILT_ACROSS, layers=TILT_LAYERS)
            except FieldError as err:
                self.session.said.emit("no", str(err))
                grid = None
            self._grid = (key, grid)
        return self._grid[1]

    def _deepened(self, key: object, found: Depths | str) -> None:
        if key != self._deep or self._watering is None:
            return
        self._depths = None if isinstance(found, str) else found
        self.one.why = found if isinstance(found, str) else ""
        self.one.show_watering(self._watering, self._depths)
        kept = self.kept_mix(self._watering.first.f.case)
        self.mixing.show_watering(self._watering, self.draft or kept, kept, self._depths)
        self.turned.emit()

    def _compared(self, key: object, found: Any) -> None:
        if key == self._deep:
            self.mixing.curve.show_tried(found)

    def _reckon_years(self, stands: Stands) -> None:
        s = self.session
        asked = asked_of(s.brief.keeping, helps=True)
        if self.draft is not None:
            stands = tuple((replace(c, mix=self.draft), p) for c, p in stands)
        key = (tuple((c.tree, c.brief, c.planting, c.mix, c.site, p) for c, p in stands), asked, s.units)
        if key == self._asked:
            return
        self._asked = key
        runner, work = self.context.runner, partial(years_of, stands, asked)
        runner.start_long(
            "year in a pot", "Years in these pots", lambda p: runner.apart(work, p), partial(self._done, stands, key)
        )

    def _done(self, stands: Stands, key: object, found: tuple[PotYear | str, ...]) -> None:
        if key != self._asked:
            return
        charts = tuple(
            chart_of(pot, one) for (_, pot), one in zip(stands, found, strict=True) if not isinstance(one, str)
        )
        first = found[0]
        self._told = ()
        if not isinstance(first, str):
            asked = asked_of(self.session.brief.keeping, helps=True)
            self._told = year_findings(first, asked)
        self.beside.show_findings(self._told)
        self._show(found, () if isinstance(first, str) else charts, first if isinstance(first, str) else "")

    def assessment(self) -> Assessment | None:
        """The pot in hand; in the year with what the years say of how it is kept."""
        first = self._watering.first if self._watering is not None else None
        a = self.session.planned()
        if self.view == "year":
            if a is None or not self._told:
                return None
            return replace(a, findings=self._told, answers=answers_of((f.code, f.status) for f in self._told))
        return (
            a
            if first is None or a is None or a.pot == first.pot
            else assess(first.f.case, first.pot, self.session.units)
        )

    def _show(self, found: tuple[PotYear | str, ...], charts: tuple[YearChart, ...], sentence: str) -> None:
        if not found:
            self._asked = None
        self._charts = charts
        self.year.show_charts(charts, sentence[:1].upper() + sentence[1:], away_words(self.session.brief.keeping))
        self.beside.show_years(found, charts)
        self.turned.emit()

    def drafted(self) -> None:
        """A year is not reckoned in every frame of a drag."""

    def entered(self) -> None:
        self.refresh()

    def tree_changed(self) -> None:
        # the year of another tree must not stand under this one's name
        self.draft, self.tilt_deg, self.mound_mm = None, 0.0, None
        self.one.deeper_mm = 0.0
        self._watering, self._depths, self._deep, self._asked, self._charts = None, None, None, None, ()
        self._told = ()
        self.beside.show_findings(())
        self.one.show_watering(None, None)
        self.year.show_charts((), "")
        self.beside.show_years((), ())

    def file_changed(self) -> None:
        self.tree_changed()

    # --- hands

    def _again(self, *, live: bool) -> None:
        stands = self._stands() if self.session.tree is not None else ()
        if stands:
            self._reckon_one(stands, live=live)

    def _try(self, mix: Mix, live: bool) -> None:
        self.draft = mix
        self._again(live=live)

    def _recipe(self, key: str) -> None:
        """Another recipe is tried from its beginning."""
        mix = self.session.collection.mixes.get(key)
        if mix is not None:
            self.draft = mix
            self._again(live=False)

    def _deepen(self, by_mm: float) -> None:
        """The pot in hand deeper or shallower, for trial: no pot changes."""
        stands = self._stands(trial=False) if self.session.tree is not None else ()
        if stands:
            pot = stands[0][1]
            least = pot.floor_mm + pot.feet_mm + LEAST_INSIDE_MM - pot.height_mm
            self.one.deeper_mm = max(min(by_mm, MOST_DEEPER_MM), min(least, 0.0))
            self._again(live=True)

    def _tilt(self, degrees: float) -> None:
        self.tilt_deg = degrees
        self._again(live=True)

    def _mound(self, mound_mm: float, let_go: bool) -> None:
        planting = self.session.planting
        self.mound_mm = mound_mm
        if let_go and planting is not None and mound_mm != planting.mound_mm:
            self.mound_mm = None
            self.session.edit(
                f"Mound {mound_mm:.0f} mm", [("planting", planting.id, planting.changed(mound_mm=mound_mm))]
            )
            return
        self._again(live=not let_go)

    def keep(self) -> None:
        """Keep the mix for the tree: a version of its recipe, or a recipe of its own where others use that one too."""
        s, tree, mix = self.session, self.session.tree, self.draft or self.kept_mix()
        if tree is None or mix is None:
            return
        held = s.collection.mixes.get(mix.id)
        changes: list[Any] = []
        if held is None:
            # the recipe went while it was tried
            key = mix.id
            changes.append(("mix", key, mix))
        elif held != mix:
            if _used_by_others(s, mix.id):
                key = fresh_id(s.collection.mixes, f"{mix.id}-{tree.id}")
                changes.append(
                    (
                        "mix",
                        key,
                        next_version(held, mix, s.today, s.tables.substrates).changed(
                            id=key, name=f"{held.name}, {tree.name}"[:200]
                        ),
                    )
                )
            else:
                key = mix.id
                changes.append(("mix", key, next_version(held, mix, s.today, s.tables.substrates)))
        else:
            key = mix.id
        if s.brief.mix != key:
            changes.append(("brief", s.brief.id, s.brief.changed(mix=key)))
        draft, self.draft = self.draft, None
        if changes and not s.edit(f"Mix kept for {tree.name}", changes):
            # a trial that could not be written stays in hand
            self.draft = draft
        else:
            s.said.emit("fits", f"{s.collection.mixes[key].name} is kept for {tree.name}")
        self.refresh()


def _used_by_others(s: Session, mix: str) -> bool:
    c = s.collection
    return any(p.mix == mix and p.tree != s.tree_id and p.ended is None for p in c.plantings) or any(
        b.mix == mix and b.id != s.brief.id for b in c.briefs.values()
    )


def _depths_of(case: Case, pot: Pot, day: Any, asked: Any) -> Depths | str:
    """Water by depth of one pot, in another process; a sentence where it cannot be told."""
    try:
        return water_by_depth(figures_for(case, [pot]), day, asked)
    except FieldError as err:
        return err.reason
