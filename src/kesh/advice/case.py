"""The case on the bench: one tree, its mix, brief, school, site and season."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import date

import numpy as np

from kesh.advice.kinds.kinds import chosen_off
from kesh.advice.roots.views import limit_by_view, points_by_view, sides_in_turn
from kesh.advice.season.own_seasons import own_seasons
from kesh.base.errors import FieldError
from kesh.base.once import once
from kesh.base.words import a_few
from kesh.geometry.outline import Floats
from kesh.model import Brief, Collection, Mix, Planting, RootMass, Site, Stock, Tree, Trial
from kesh.reference.schools import School, school, schools
from kesh.reference.tables import CareClass, Species, Tables, care_classes, nearest_key, tables
from kesh.science.looks.character import strength, strong
from kesh.science.looks.proportion import WantedBands, bands
from kesh.science.roots.fit import CLEARANCE_MM, Seat, limit_share, roots_fault, usual_base_mm
from kesh.science.roots.plan import Bounds, repotting_years, root_plan, taken_in_all
from kesh.science.season.before_lift import BeforeLift, before_lift
from kesh.science.season.growth import grown
from kesh.science.season.season import Own, Season, season_at, year_at
from kesh.science.water.substrate import Blend, blend_of, layer_of

HEADSPACE_MM = 6.0
# where nothing is cut the whole mass only has to go in: mix beside it, mm [J]
UNCUT_CLEARANCE_MM = 3.0
# mean of the day between which a tree whose roots are not cut may change its pot [J]
UNCUT_C = (2.0, 28.0)
# many trunks in one picture: no single one of them asks for a depth
GROUP_STYLES = frozenset({"forest", "raft", "landscape_tray"})
# what older files call a rule that has another name now
RENAMED = {"air": "wet_foot", "air_lower_third": "wet_foot"}


@dataclass(frozen=True)
class Doubt:
    """Something the case rests on that cannot be used: what, why, and what would settle it."""

    code: str
    text: str
    remedy: str


@dataclass(frozen=True)
class Case:
    """All that stays the same while pots are tried under one tree; `hurry` is set while something is dragged."""

    tree: Tree
    species: Species | None
    tables: Tables
    brief: Brief
    school: School
    mix: Mix | None = None
    site: Site | None = None
    season: str | None = None
    window: Season | None = None
    own: Own = field(default_factory=Own)
    day: date = field(default_factory=date.today)
    planting: Planting | None = None
    tilt_deg: float = 0.0
    overrides: Mapping[str, str] = field(default_factory=dict)
    rejected: Mapping[str, str] = field(default_factory=dict)
    taken: Mapping[str, str] = field(default_factory=dict)
    kept_for: Mapping[str, str] = field(default_factory=dict)
    trials: Mapping[str, Trial] = field(default_factory=dict)
    hurry: bool = False
    # the tree as it was before a hand took hold of it, while one does
    at_rest: Tree | None = None
    lift: BeforeLift | None = None
    stock: Mapping[str, Stock] = field(default_factory=dict)
    settled: tuple[float, ...] = ()
    missing: tuple[Doubt, ...] = ()

    @once
    def roots(self) -> RootMass | None:
        """The root mass, or None before it was seen, and where it cannot be reckoned."""
        roots = self.tree.roots
        return None if roots is None or roots_fault(roots) else roots

    @once
    def doubts(self) -> tuple[Doubt, ...]:
        """All that this case should rest on and cannot."""
        found = [*self.missing]
        if self.tree.roots is not None and self.roots is None:
            found.append(
                Doubt(
                    "root_mass",
                    f"The root mass cannot be reckoned: {roots_fault(self.tree.roots)}.",
                    "Correct it in step 1.",
                )
            )
        if self._stuff[2]:
            found.append(
                Doubt(
                    "mix",
                    f"The mix {self.mix.name if self.mix else ''} cannot be reckoned: {self._stuff[2]}.",
                    "Mend it, or choose another mix.",
                )
            )
        return tuple(found)

    def doubt(self, code: str) -> Doubt | None:
        """One of them."""
        return next((d for d in self.doubts if d.code == code), None)

    @once
    def _stuff(self) -> tuple[Blend | None, tuple[Blend, float] | None, str]:
        if self.mix is None or not self.mix.parts:
            return None, None, ""
        try:
            return blend_of(self.mix, self.tables), layer_of(self.mix, self.tables), ""
        except FieldError as err:
            return None, None, err.reason

    @property
    def conifer(self) -> bool:
        """Whether the tree is a conifer."""
        return self.species is not None and self.species.group == "conifer"

    @once
    def care(self) -> CareClass:
        """The care class of the species; a collected tree has its own cut limit, see `cut_limit`."""
        return care_classes()[self.species.class_key if self.species else "deciduous_fine"]

    @once
    def cut_limit(self) -> float | None:
        """Largest feeder share of a healthy tree in the best season; None when the species is not known."""
        if self.species is None:
            return None
        row = self.species.max_root_removal_healthy
        limit = limit_by_view(self.care.cut_limit if row is None else row, self.species, self.brief.root_views)
        return min(limit, care_classes()["collected"].cut_limit) if self.tree.stage == "collected" else limit

    @once
    def limit_share(self) -> float | None:
        """Largest feeder share to take now: species, season, health and stage."""
        if self.cut_limit is None or self.roots is None or self.season is None:
            return None
        return self.limit_in(self.roots.health)

    def limit_in(self, health: str) -> float | None:
        """Largest feeder share to take now from a tree in such health, as the signs seen on it leave it."""
        if self.cut_limit is None or self.season is None:
            return None
        held = self.lift.limit_share if self.lift is not None else 1.0
        return held * limit_share(self.cut_limit, self.season, health)

    @once
    def map_alone(self) -> tuple[float, int]:
        """(feeders that the root map takes in all without any pot, repottings for it); none without a map or a limit."""
        limit, roots = self.limit_share, self.tree.root_map
        if limit is None or not roots:
            return 0.0, 0
        plan = root_plan(roots, self.bounds((0.0,), limit))
        return taken_in_all(plan.shares), len(repotting_years(plan))

    @once
    def bears_share(self) -> float | None:
        """Feeders that a pot may take and add no repotting: the limit of one, or what those that the map asks for leave."""
        limit = self.limit_share
        own, alone = self.map_alone
        return None if limit is None else max(limit, 1 - (1 - limit) ** alone / max(1 - own, 1e-9))

    def bounds(self, pot_shares: tuple[float, ...], limit: float) -> Bounds:
        """What a root plan of this tree is held to in a pot that takes these shares."""
        views, roots = self.brief.root_views, self.roots
        return Bounds(
            limit, pot_shares, self.care.interval_years, roots.feeders if roots else "even",
            roots.untouched if roots else (), tuple(sorted(points_by_view(self.school, views).items())), sides_in_turn(views),
        )  # fmt: skip

    @once
    def air_need(self) -> float | None:
        """Air the species wants in the drained mix."""
        if self.species is None:
            return None
        return self.care.air_need if self.species.min_air_porosity is None else self.species.min_air_porosity

    @once
    def strength(self) -> float:
        """-2 delicate .. +2 powerful, by species and the traits of this tree."""
        usual = self.species.strength if self.species else None
        return strength(usual, self.tree.traits)

    @once
    def bears_colour(self) -> bool:
        """Whether flowers or fruit are part of the picture: by species, or seen clearly in this tree."""
        usual = self.species is not None and self.species.flowering_or_fruiting != "none"
        return usual or strong(self.tree.traits, "blooms", "fruits")

    @once
    def blend(self) -> Blend | None:
        """The mix as one material, or None without a mix that can be reckoned."""
        return self._stuff[0]

    @once
    def layer(self) -> tuple[Blend, float] | None:
        """The drainage layer's material and thickness."""
        return self._stuff[1]

    @once
    def bands(self) -> WantedBands:
        """Wanted ranges under the chosen school and purpose."""
        return bands(self.tree, self.school, self.purpose, self.brief.trunk_station)

    @once
    def bands_ahead(self) -> WantedBands:
        """Wanted ranges for the tree as it will be at the brief's horizon."""
        then = grown(self.tree.measure, self.tree.stage, self.brief.horizon_years)
        return bands(self.tree.changed(measures=(then,)), self.school, self.purpose, self.brief.trunk_station)

    @property
    def exact(self) -> bool:
        """Whether the pot must be right now, for a show or because its keeper says so; else it may have room to grow into."""
        return self.brief.season_views.size == "exact" or self.purpose == "show" or self.tree.stage == "on_show"

    @property
    def purpose(self) -> str:
        """What the pot is for: as the brief says, but a group is judged as a group from its style on, and a tree that grows on as one."""
        asked = self.brief.purpose.value
        if asked not in ("refine", "show"):
            return asked
        if self.tree.style in GROUP_STYLES or self.tree.group:
            return "forest"
        return "grow_on" if self.tree.stage == "growing_on" else asked

    @once
    def switched_off(self) -> tuple[tuple[str, ...], str]:
        """(rules of display that are not asked, why): by the purpose, and by the kind that was chosen for the planting."""
        rule = self.school.purposes[self.purpose]
        codes, why = chosen_off(self.planting)
        found = tuple(dict.fromkeys((*rule.off, *codes)))
        # where the purpose says it already the kind need not say it again
        more = why if set(codes) - set(rule.off) else ""
        return found, " and ".join(w for w in (rule.reason.rstrip(".") if rule.off else "", more) if w)

    @once
    def off(self) -> frozenset[str]:
        """Codes of the rules that are not asked."""
        return frozenset(self.switched_off[0])

    @property
    def dated(self) -> bool:
        """Whether this is a plan with a day: then the season of that day is part of it."""
        return self.planting is not None and self.planting.planned and self.planting.date is not None

    @property
    def headspace_mm(self) -> float:
        """Watering space between soil line and rim."""
        given = self.planting.headspace_mm if self.planting else None
        return HEADSPACE_MM if given is None else given

    @property
    def mound_mm(self) -> float:
        """Height of the soil mound above the soil line."""
        return self.planting.mound_mm if self.planting else 0.0

    @property
    def soil_over_base_mm(self) -> float:
        """How far soil stands over the top of the root mass, where the tree's present soil line is taken to lie."""
        return self.mound_mm - self.headspace_mm - self.seat.raise_mm

    @once
    def seat(self) -> Seat:
        """Where the tree stands, defaults filled in; what lies under the roots hangs on the pot, see `base_mm`."""
        p = self.planting
        usual = UNCUT_CLEARANCE_MM if self.brief.root_views.amount == "nothing" else CLEARANCE_MM
        if p is None:
            return Seat(clearance_mm=usual)
        return Seat(
            offset_x_mm=p.offset_x_mm,
            offset_y_mm=p.offset_y_mm,
            turn_deg=p.turn_deg,
            raise_mm=p.raise_mm,
            clearance_mm=usual if p.clearance_mm is None else p.clearance_mm,
        )

    def base_mm(self, inner_depth_mm: Floats) -> Floats:
        """Mix under the roots in pots of such inner depths (N,): as it was set, else as is usual."""
        p, layer = self.planting, self.layer[1] if self.layer else 0.0
        if p is not None and p.base_layer_mm is not None:
            return np.full(len(inner_depth_mm), max(p.base_layer_mm, layer))
        base = usual_base_mm(inner_depth_mm)
        return np.maximum(base, layer)


def default_brief(tree: Tree) -> Brief:
    """A brief nobody has written yet: refine by the classical school over five years."""
    return Brief(id=tree.id)


def case_for(
    collection: Collection,
    tree_id: str,
    *,
    pot_id: str | None = None,
    mix_id: str | None = None,
    school_id: str | None = None,
    season: str | None = None,
    tilt_deg: float | None = None,
    today: date | None = None,
    on: date | None = None,
    planting: Planting | None = None,
) -> Case:
    """Gather a case from a collection. Raises FieldError for an unknown tree, and for a mix, school or season asked for.

    `on` is the day that is asked about; without it a planting is judged by its own date, else by today. `season` may be
    `next`: the tree's next window, which is what a brief means that names no season.
    What the records name and the collection does not have is no error: it becomes a doubt of the case.
    """
    tree = collection.trees.get(tree_id)
    if tree is None:
        raise FieldError("tree", f"no tree '{tree_id}'; known are {a_few(collection.trees)}")
    rows = tables(collection.species_rows, collection.substrate_rows)
    species = rows.species.get(tree.species) if tree.species else None
    brief = collection.briefs.get(tree_id) or default_brief(tree)
    if planting is None:
        planting = collection.planting_of(tree_id, pot_id) if pot_id else None
    present = collection.planting_of(tree_id)
    wanted = mix_id or (planting.mix if planting else None) or brief.mix or (present.mix if present else None)
    if wanted is None and len(collection.mixes) == 1:
        wanted = next(iter(collection.mixes))
    if mix_id is not None and mix_id not in collection.mixes:
        raise FieldError("mix", f"no mix '{mix_id}'; known are {a_few(collection.mixes)}")
    planting = None if planting is None else _lifted(planting)
    judge, missing = _judge(brief, school_id)
    missing += _missing(tree, rows, wanted, collection)
    if season not in (None, "best", "edge", "wrong", "next"):
        raise FieldError("season", f"'{season}' is not best, edge or wrong")
    day = on or (planting.date if planting and planting.date else None) or today or date.today()
    own = own_seasons(collection, tree, brief)
    window = _uncut(season_at(species, day, collection.site, own=own), brief, collection.site, own, day)
    lineup = collection.lineups.get(tree_id)
    found = [p for p in collection.plantings if p.ended is None and not p.planned and p.tree != tree_id]
    return Case(
        tree=tree,
        species=species,
        tables=rows,
        brief=brief,
        school=judge,
        mix=collection.mixes.get(wanted) if wanted else None,
        site=collection.site,
        season=_season(season or _planned(brief, planting), window),
        window=window,
        own=own,
        day=day,
        planting=planting,
        tilt_deg=tilt_deg or 0.0,
        overrides={RENAMED.get(o.code, o.code): o.reason for o in collection.overrides if o.tree == tree_id},
        rejected={r.pot: r.reason for r in collection.rejections if r.tree == tree_id},
        trials={t.pot: t for t in lineup.trials} if lineup and planting is None else {},
        taken={p.pot: collection.trees[p.tree].name for p in found if p.tree in collection.trees},
        kept_for={
            p.id: collection.trees[p.reserved.tree].name
            for p in collection.pots.values()
            if p.reserved is not None and p.reserved.tree != tree_id and p.reserved.tree in collection.trees
        },
        lift=before_lift(tree.signs, on or today or date.today(), tips_stop=brief.tips_stop) if tree.signs else None,
        stock=collection.stock,
        settled=collection.settled,
        missing=tuple(missing),
    )


def _lifted(planting: Planting) -> Planting:
    """A mound lifts the tree: where nobody set its height the roots come to lie at the mound's soil, not in the pot's."""
    if planting.mound_mm <= 0 or planting.raise_mm != 0:
        return planting
    return planting.changed(raise_mm=lifted_mm(planting, planting.mound_mm))


def lifted_mm(planting: Planting, mound_mm: float) -> float:
    """How far the top of the roots stands over the rim on a mound, mm."""
    headspace = HEADSPACE_MM if planting.headspace_mm is None else planting.headspace_mm
    return round(max(mound_mm - headspace, 0.0), 1) if mound_mm > 0 else 0.0


def _uncut(window: Season | None, brief: Brief, site: Site | None, own: Own, day: date) -> Season | None:
    """Where no root is cut a tree may change its pot whenever it is neither in hard frost nor in heat: at worst the edge."""
    year = year_at(site, *own.housed)
    if window is None or window.status != "wrong" or brief.root_views.amount != "nothing" or year is None:
        return window
    low, high = UNCUT_C
    if not low <= year.mean_on(day) <= high:
        return window
    return replace(window, status="edge", why=f"no root is cut, and the mean of the day is {year.mean_on(day):.0f} °C")


def _judge(brief: Brief, asked: str | None) -> tuple[School, list[Doubt]]:
    """The school that speaks: the one asked for, the brief's, or the first that ships where the brief names none."""
    if asked is not None or brief.school in schools():
        return school(asked or brief.school), []
    text = f"The brief names a school '{brief.school}' that is not here; the classical school speaks instead."
    return school("classical"), [Doubt("school", text, "Choose a school in step 2.")]


def _missing(tree: Tree, rows: Tables, mix: str | None, collection: Collection) -> list[Doubt]:
    """What the records name and nobody knows."""
    found = []
    if tree.species and tree.species not in rows.species:
        near = nearest_key(tree.species, rows.species)
        hint = f"Perhaps {rows.species[near].common_name} ({near}) is meant." if near else "Name the species."
        found.append(
            Doubt("species", f"Species '{tree.species}' is not in the table; what hangs on it is not judged.", hint)
        )
    if mix is not None and mix not in collection.mixes:
        near = nearest_key(mix, collection.mixes)
        hint = f"Perhaps {collection.mixes[near].name} is meant; choose a mix." if near else "Choose a mix, or add one."
        found.append(Doubt("mix", f"Mix '{mix}' is not in this collection; water and air are not judged.", hint))
    return found


def season_meant(brief: Brief) -> str | None:
    """When a brief means the root work to be done: its word, `next` where it says nothing, None for the day itself."""
    return None if brief.season == "today" else brief.season or "next"


def season_planned(collection: Collection, tree_id: str) -> str | None:
    """As `season_meant`, of a tree whose brief may not be written yet."""
    brief = collection.briefs.get(tree_id)
    return "next" if brief is None else season_meant(brief)


def _planned(brief: Brief, planting: Planting | None) -> str | None:
    """The season the brief plans for, whatever the day; a planting with a date is judged by its own."""
    if planting is not None and planting.date is not None:
        return None
    return season_meant(brief)


def _season(planned: str | None, window: Season | None) -> str | None:
    """The season of the work; the next window is the best time wherever the year has one."""
    if planned == "next":
        planned = "best" if window is not None and window.first is not None else None
    return planned or (window.status if window is not None else None)
