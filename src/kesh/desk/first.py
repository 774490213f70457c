"""The first tree and the first pot: the few things that must be known, what they make, and what they already say. No Qt here."""

from dataclasses import dataclass, replace
from datetime import date

from kesh.base.errors import FieldError, KeshError
from kesh.base.units import Units
from kesh.base.words import comma_and
from kesh.figure.habit import alone
from kesh.geometry.usual import NOTE, usual_body
from kesh.model import GroupTree, Measure, Outline, Pot, Tree
from kesh.model.tree import HANGING
from kesh.reference.schools import school
from kesh.science.looks.proportion import bands

# nine styles that stand for all; the others are in the tree's card
STYLES = (
    ("formal_upright", "formal"), ("informal_upright", "informal"), ("slanting", "slanting"), ("semi_cascade", "semi-cascade"),
    ("cascade", "cascade"), ("broom", "broom"), ("literati", "literati"), ("windswept", "windswept"), ("forest", "group"),
)  # fmt: skip
CUP_MM, GHOST_MM, GHOST_TRUNK_MM, GHOST_LENGTH_MM = 95.0, 430.0, 52.0, 300.0
OUTLINES = (
    ("rectangle", "rectangle", Outline(kind="rectangle", corner_mm=12)), ("square", "square", Outline(kind="rectangle", corner_mm=8)),
    ("oval", "oval", Outline(kind="oval")), ("round", "round", Outline(kind="round")), ("hexagon", "hexagon", Outline(kind="polygon", sides=6)),
    ("lobed", "lobed", Outline(kind="lobed", lobes=4, lobe_style="smooth")),
)  # fmt: skip
# taller or shorter for their trunk hardly any tree stands: then a unit is doubted
MOST_SLENDER, LEAST_SLENDER = 45.0, 1.2
EQUAL_SIDES = frozenset({"square", "round"})
KG_PER_LITRE = 0.998


class Said:
    """What was said so far of something that is to stand there."""

    def _ghost(self) -> Tree | Pot | None:
        return None

    @property
    def fault(self) -> str:
        """What cannot be in what was said, or ''."""
        try:
            self._ghost()
        except KeshError as err:
            return str(err)
        return ""


@dataclass(frozen=True)
class FirstTree(Said):
    """Five things and it stands there; everything else can wait."""

    name: str = ""
    species: str | None = None
    style: str = "informal_upright"
    height_mm: float | None = None
    trunk_mm: float | None = None
    spread_mm: float | None = None
    drop_mm: float | None = None
    group: tuple[GroupTree, ...] = ()

    @property
    def hangs(self) -> bool:
        """Whether it is asked how far it hangs below its soil."""
        return self.style in HANGING

    @property
    def several(self) -> bool:
        """Whether its trees may be said in a line."""
        return self.style == "forest"

    @property
    def sizes(self) -> tuple[float | None, float | None]:
        """Height and trunk; those of a group are its main tree's until they are said."""
        trees = self.group if self.several else ()
        height = self.height_mm or max((g.height_mm or 0.0 for g in trees), default=None)
        return height, self.trunk_mm or max((g.diameter_mm or 0.0 for g in trees), default=None)

    @property
    def missing(self) -> tuple[str, ...]:
        """What is still to be said before it can stand."""
        height, trunk = self.sizes
        found = [("a name", self.name.strip()), ("its height", height), ("its trunk", trunk)]
        if self.hangs:
            found.append(("how far it hangs", self.drop_mm))
        return tuple(words for words, value in found if not value)

    @property
    def doubt(self) -> str:
        """What is hard to believe in what was said, in millimetres."""
        return self.doubt_in(Units())

    def doubt_in(self, units: Units) -> str:
        """What is hard to believe in what was said, as a question; '' where nothing is."""
        height, trunk = self.sizes
        if height is None or trunk is None or self.several:
            return ""
        sizes = f"{units.mm(height)} high on a trunk of {units.mm(trunk)}?"
        if height / trunk > MOST_SLENDER:
            return f"{sizes} Few trees are so thin: look at the units once more."
        return f"{sizes} Look at the units once more." if height / trunk < LEAST_SLENDER else ""

    def usual_spread_mm(self) -> float | None:
        """How wide a tree of its style and height usually is; None before its height is known."""
        height, trunk = self.sizes
        if height is None or self.fault:
            return None
        if self.several and self.group:
            xs = [g.x_mm or 0.0 for g in self.group]
            return round(max(xs) - min(xs) + 0.35 * height)
        sitter = alone(self._bare("x", date.min, height, trunk or height / 8), None)
        return None if sitter is None else round(sitter.left + sitter.right)

    def _bare(self, key: str, today: date, height: float, trunk: float) -> Tree:
        measure = Measure(taken=today).changed(
            height_mm=height, trunk_diameter_mm=trunk, drop_mm=self.drop_mm if self.hangs else None
        )
        return Tree(
            id=key,
            name=key,
            style=self.style,
            species=self.species,
            flow="right" if self.hangs else "none",
            measures=(measure,),
        )

    def tree(self, key: str, today: date) -> Tree:
        """The tree. Raises FieldError naming what is missing or cannot be."""
        if self.missing:
            raise FieldError("tree", f"{comma_and(self.missing)} would let it stand")
        height, trunk = self.sizes
        assert height is not None
        assert trunk is not None
        bare = self._bare(key, today, height, trunk)
        spread, said = self.spread_mm or self.usual_spread_mm(), self.spread_mm is not None
        sitter = alone(bare, None)
        left = 0.5 if sitter is None else sitter.left / (sitter.left + sitter.right)
        reach = (
            {}
            if spread is None
            else {"canopy_left_mm": round(left * spread), "canopy_right_mm": round((1 - left) * spread)}
        )
        measure = bare.measure.changed(**reach, assumed=() if said else tuple(reach))
        seed = sum(map(ord, self.name)) * 7 + 3
        base = Tree(id=key, name=key, seed=seed)
        return base.changed(
            name=self.name.strip(),
            species=self.species,
            style=self.style,
            measures=(measure,),
            stage="developing",
            group=self.group if self.several else (),
            flow=bare.flow,
        )

    def ghost(self) -> Tree:
        """What is drawn while nothing stands there yet: what was said, and a plausible size for the rest.

        What cannot be is drawn as if it had not been said; `fault` tells it.
        """
        return (FirstTree(species=self.species, style=self.style) if self.fault else self)._ghost()

    def _ghost(self) -> Tree:
        known, thick = self.sizes
        height = known or GHOST_MM
        trunk = thick or min(GHOST_TRUNK_MM * height / GHOST_MM, 0.4 * height)
        drop = (self.drop_mm or 0.9 * height) if self.hangs else None
        reach = (
            {}
            if self.spread_mm is None
            else {"canopy_left_mm": self.spread_mm / 2, "canopy_right_mm": self.spread_mm / 2}
        )
        measure = Measure().changed(height_mm=height, trunk_diameter_mm=trunk, drop_mm=drop, **reach)
        return Tree(
            id="ghost",
            name="ghost",
            species=self.species,
            style=self.style,
            flow="right",
            measures=(measure,),
            seed=11,
            group=self.group if self.several else (),
        )

    def sentence(self, units: Units) -> str:
        """What the two measures already say."""
        height, trunk = self.sizes
        if height is None or trunk is None or trunk <= 0:
            return "Height and trunk already say how deep a pot should be."
        ratio = self.doubt_in(units) or f"Trunk to height is 1 : {height / trunk:.1f}."
        try:
            found = bands(replace(self, name="x").tree("x", date.min), school("classical"), "refine", None)
        except FieldError:
            return ratio
        asked = []
        # how deep a tray is its plugs say, not the one trunk
        for words, band in (("long", found.length), *((("deep", found.depth),) if not self.several else ())):
            if band.low is not None and band.high is not None:
                asked.append(f"{units.band(band.low, band.high)} {words}")
        return f"{ratio} The classical school asks a pot {' and '.join(asked)}." if asked else ratio


@dataclass(frozen=True)
class FirstPot(Said):
    """An outline and three sizes, or an outline, a height and the water it holds; wall and floor are taken as usual."""

    name: str = ""
    outline: str = "oval"
    length_mm: float | None = None
    width_mm: float | None = None
    height_mm: float | None = None
    water_kg: float | None = None

    @property
    def equal_sides(self) -> bool:
        """Whether one size serves for length and width."""
        return self.outline in EQUAL_SIDES

    @property
    def missing(self) -> tuple[str, ...]:
        """What is still to be said."""
        found = [("its length", self.length_mm), ("its height", self.height_mm)]
        if not self.equal_sides and self.outline != "hexagon":
            found.insert(1, ("its width", self.width_mm))
        return tuple(words for words, value in found if not value)

    def pot(self, key: str) -> Pot:
        """The pot. Raises FieldError naming what is missing or cannot be."""
        if self.missing or self.length_mm is None or self.height_mm is None:
            raise FieldError("pot", f"{comma_and(self.missing)} would let it stand")
        length, height = self.length_mm, self.height_mm
        width = length if self.equal_sides else (self.width_mm or length)
        if self.outline == "hexagon" and self.width_mm is None:
            width = round(length * 0.866, 1)
        usual = usual_body(length, width, height)
        outline = next(o for k, _, o in OUTLINES if k == self.outline)
        corner = min(outline.corner_mm, min(length, width) / 2)
        base = Pot(id=key, name=key, length_mm=300, width_mm=300, height_mm=100, holes_known=False)
        return base.changed(
            name=self.name.strip() or f"My {self.outline} pot", outline=outline.changed(corner_mm=corner), length_mm=length,
            width_mm=width, height_mm=height, wall_mm=usual.wall_mm, floor_mm=usual.floor_mm,
            feet_mm=usual.feet_mm, measured_volume_l=None if self.water_kg is None else float(f"{self.water_kg / KG_PER_LITRE:.4g}"),
            notes=f"Wall, floor and feet are {NOTE}.",
        )  # fmt: skip

    def ghost(self) -> Pot:
        """What is drawn while nothing stands there yet: what was said, and plausible sizes for the rest.

        What cannot be is drawn as if it had not been said; `fault` tells it.
        """
        return (FirstPot(outline=self.outline) if self.fault else self)._ghost()

    def _ghost(self) -> Pot:
        length = self.length_mm or GHOST_LENGTH_MM
        width = self.width_mm or round((1.0 if self.equal_sides else 0.75) * length)
        return replace(self, length_mm=length, width_mm=width, height_mm=self.height_mm or round(0.25 * length)).pot(
            "ghost"
        )
