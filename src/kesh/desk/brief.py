"""What the Brief step shows: bands of every school beside the present pot. No Qt here."""

from dataclasses import dataclass

from kesh.advice.assess import Assessment
from kesh.advice.case import Case
from kesh.advice.figures import figures_for
from kesh.advice.rules.size import wanted_finishes, wanted_outlines
from kesh.base.units import Units
from kesh.model import Pot
from kesh.reference.schools import schools
from kesh.science.looks.character import WEIGHT, mood, strong
from kesh.science.looks.proportion import WantedBand, bands
from kesh.science.season.growth import FILL_IN_YEARS, grown


@dataclass(frozen=True)
class SchoolBand:
    """One school's band on one measure."""

    school: str
    band: WantedBand
    judges: bool


@dataclass(frozen=True)
class BandRow:
    """One measure: the judging band, every school's band, the present pot's figure."""

    name: str
    words: str
    unit: str
    judge: WantedBand
    schools: tuple[SchoolBand, ...]
    present: float | None
    status: str

    @property
    def span(self) -> tuple[float, float]:
        """The range the bars cover."""
        values = [v for s in self.schools for v in (s.band.low, s.band.high) if v is not None]
        if self.present is not None:
            values.append(self.present)
        if not values:
            return 0.0, 1.0
        low, high = min(values), max(values)
        pad = 0.12 * (high - low or 1.0)
        return max(0.0, low - pad), high + pad

    @property
    def inside(self) -> bool | None:
        """Whether the present pot lies inside the judging band."""
        if self.present is None or self.judge.low is None:
            return None
        return self.judge.place(self.present) == "inside"

    def apart(self) -> tuple[str, float] | None:
        """The school that is furthest from the judge and by how much, when the bands do not touch."""
        if self.judge.low is None or self.judge.high is None:
            return None
        worst: tuple[str, float] | None = None
        for other in self.schools:
            low, high = other.band.low, other.band.high
            if other.judges or low is None or high is None:
                continue
            gap = max(low - self.judge.high, self.judge.low - high)
            if gap > 1e-6 and (worst is None or gap > worst[1]):
                worst = (other.school, gap)
        return worst


def show(value: float, unit: str, units: Units, *, with_unit: bool = True) -> str:
    """A band's figure in the user's units."""
    if unit == "mm":
        return units.mm(value) if with_unit else units.figure(value)
    if unit == "l":
        return units.litres(value)
    return f"{value:.2f}"


def band_words(band: WantedBand, units: Units) -> str:
    """A band as text; names what is missing."""
    if band.low is None or band.high is None:
        return "not measured"
    if band.unit == "mm":
        return units.band(band.low, band.high)
    if band.unit == "l":
        return f"{units.litres(band.low).split()[0]}–{units.litres(band.high)}"
    return f"{band.low:.2f}–{band.high:.2f}"


WORDS = {
    "depth": "Depth inside",
    "length": "Length",
    "width": "Width",
    "volume": "Volume",
    "visual_mass": "Visual mass",
}


# the finding that speaks of a band; volume has no rule of its own, so outside its band is only worth a look
FINDING_OF = {"depth": "depth_band", "length": "length_band", "width": "width_band", "visual_mass": "visual_mass"}


def _status(name: str, band: WantedBand, value: float | None, present: Assessment | None) -> str:
    if present is None or value is None or band.low is None:
        return "unknown"
    told = next((f.status for f in present.findings if f.code == FINDING_OF.get(name)), None)
    return told or ("fits" if band.place(value) == "inside" else "watch")


def band_rows(case: Case, present: Assessment | None) -> tuple[BandRow, ...]:
    """Depth, length, width, volume and visual mass under every school."""
    every = {key: bands(case.tree, school, case.purpose, case.brief.trunk_station) for key, school in schools().items()}
    values: dict[str, float | None] = dict.fromkeys(WORDS)
    if present is not None:
        f, pot = present.figures, present.pot
        values = {
            "depth": pot.inner_depth_mm,
            "length": pot.length_mm,
            "width": pot.width_mm,
            "volume": float(f.body.inner_volume_l[0]),
            "visual_mass": None if f.visual_ratio is None else round(float(f.visual_ratio[0]), 2),
        }
    return tuple(
        BandRow(
            name, WORDS[name], getattr(case.bands, name).unit, getattr(case.bands, name),
            tuple(SchoolBand(schools()[key].name.lower(), getattr(found, name), key == case.school.key) for key, found in every.items()),
            values[name], _status(name, getattr(case.bands, name), values[name], present),
        )
        for name in WORDS
    )  # fmt: skip


@dataclass(frozen=True)
class Advice:
    """A line of shape advice: what is asked and why."""

    head: str
    asked: str
    why: str


def shape_advice(case: Case, pot: Pot | None) -> tuple[Advice, ...]:
    """Outline, wall, feet, lip and finish after the school, with reasons."""
    row, species = case.bands.tradition, case.species
    kind = mood(case.strength)
    f = figures_for(case, [pot] if pot else [])
    outlines = " or ".join(wanted_outlines(f)[:2]).replace("_", " ")
    if species is None:
        finish, why = "not judged", "Name the species."
    else:
        finish = " or ".join(wanted_finishes(case)).replace("_", " ")
        if finish == "unglazed":
            why = "this kind is shown unglazed by custom"
        elif case.bears_colour:
            why = "flower and fruit bear colour"
        else:
            answers = strong(case.tree.traits, "autumn_colour")
            why = "quiet; it may answer the autumn leaf" if answers else "quiet under leaves"
    # room for one: the trait that moved the figure most
    told = [t for t in case.tree.traits if t.kind not in ("powerful", "delicate")]
    most = max(told, key=lambda t: abs(WEIGHT[t.kind]) * t.strength, default=None)
    seen = f"{kind} tree" + (f" ({most.kind.replace('_', ' ')})" if most else "")
    avoid = row.outline_avoid.split(";")[0].replace("_", " ")
    return (
        Advice("Outline", outlines, f"{seen}; seldom {avoid}" if avoid else seen),
        Advice(
            "Wall",
            " or ".join(row.wall_profile.split(";")[:2]).replace("_", " "),
            f"usual for {case.tree.style.replace('_', ' ')}",
        ),
        Advice(
            "Feet, lip",
            f"{row.feet.split(';')[0].replace('_', ' ')}; {row.lip.split(';')[0]} lip",
            "feet let water and air pass",
        ),
        Advice("Finish", finish, why),
    )


def character_words(case: Case) -> str:
    """How strong the tree looks, and what made it so."""
    usual = case.species.strength if case.species and case.species.strength is not None else None
    parts = [] if usual is None else [f"species {usual:+g}"]
    parts += [f"{t.kind.replace('_', ' ')} {WEIGHT[t.kind] * t.strength / 3:+.1f}" for t in case.tree.traits]
    grounds = f": {', '.join(parts)}" if parts else ""
    return f"{mood(case.strength).capitalize()}, {case.strength:+.1f} on −2 to +2{grounds}.".replace("-", "−")


def later(case: Case) -> tuple[tuple[str, float, float, float], ...]:
    """(when, height, spread, trunk) now, after fill-in and at the horizon; empty without measures."""
    m, found = case.tree.measure, []
    for words, years in (
        ("now", 0.0),
        ("filled in", FILL_IN_YEARS),
        (f"in {case.brief.horizon_years:g} years", case.brief.horizon_years),
    ):
        then = grown(m, case.tree.stage, years)
        if then.height_mm is None or then.spread_mm is None or then.trunk_diameter_mm is None:
            return ()
        found.append((words, then.height_mm, then.spread_mm, then.trunk_diameter_mm))
    return tuple(found)
