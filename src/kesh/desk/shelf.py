"""What the Shelf shows: pots that match, figures of the one in hand, which trees it would suit. No Qt here."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from kesh.advice.case import case_for
from kesh.advice.rank import rank
from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.formats.lists.spoken.cells import hole_word, holes_of, look_of
from kesh.geometry.columns import columns
from kesh.geometry.overall import differs, overall_mm
from kesh.geometry.profile import undercut_mm
from kesh.geometry.usual_holes import usual_holes
from kesh.geometry.volume import body
from kesh.model import Collection, Hole, Pot
from kesh.reference.tables import material

SORTS = {"name": "by name", "length": "by length", "depth": "by depth", "volume": "by volume"}
VERDICTS = {"fits": 0, "watch": 1, "unknown": 2, "no": 3}


def matching(collection: Collection, needle: str, states: frozenset[str] | None, sort: str) -> list[str]:
    """Ids of pots with all words in their name, material, finish or tree, in the order asked for."""
    holders = {p.pot: p.tree for p in collection.plantings if p.ended is None and not p.planned}
    found = []
    for pot in collection.pots.values():
        if states is not None and pot.state not in states:
            continue
        tree = collection.trees.get(holders.get(pot.id, ""))
        text = (
            f"{pot.name} {pot.material} {pot.finish} {pot.outline.kind} {tree.name if tree else ''} {pot.notes}".lower()
        )
        if all(word in text.replace("_", " ") for word in needle.lower().split()):
            found.append(pot)
    keys = {
        "name": lambda p: (p.name.lower(), p.id),
        "length": lambda p: (p.length_mm, p.id),
        "depth": lambda p: (p.inner_depth_mm, p.id),
        "volume": lambda p: (p.length_mm * p.width_mm * p.inner_depth_mm, p.id),
    }
    return [pot.id for pot in sorted(found, key=keys[sort])]


@dataclass(frozen=True)
class Fact:
    """A computed figure of the pot in hand."""

    words: str
    value: str
    status: str = ""


def overall_fact(pot: Pot, u: Units) -> list[Fact]:
    """The size over all, where belly, bands or lobes make it another than the one at the rim."""
    if not differs(pot):
        return []
    long, wide, _ = overall_mm(pot)
    return [Fact("Over all", f"{u.figure(long)} × {u.mm(wide)}")]


def facts(pot: Pot, units: Units) -> tuple[Fact, ...]:
    """Volume, mass, depth, holes and lift-out of one pot. Raises FieldError for a shape that cannot be."""
    u, cols = units, columns([pot])
    b, under = body(cols), float(undercut_mm(cols)[0][0])
    volume, mass = float(b.computed_volume_l[0]), float(b.computed_mass_kg[0])
    rows = [
        *overall_fact(pot, u),
        Fact("Inside, to the rim", u.litres(volume)),
        Fact("Depth inside", u.mm(pot.inner_depth_mm)),
    ]
    if pot.measured_volume_l is not None and volume > 0:
        apart = pot.measured_volume_l / volume - 1
        rows.append(
            Fact(
                "Measured by water",
                f"{u.litres(pot.measured_volume_l)} ({apart:+.0%})",
                "fits" if abs(apart) <= 0.1 else "watch",
            )
        )
    rows.append(Fact("Mass, empty", u.kg(mass)))
    if pot.measured_mass_kg is not None and mass > 0:
        apart = pot.measured_mass_kg / mass - 1
        rows.append(
            Fact("Weighed", f"{u.kg(pot.measured_mass_kg)} ({apart:+.0%})", "fits" if abs(apart) <= 0.1 else "watch")
        )
    if pot.profile.kind == "slab":
        rows.append(Fact("Drain holes", "a slab drains over its edge", "fits"))
    elif not pot.holes_known:
        rows.append(Fact("Drain holes", "not known", "unknown"))
    else:
        share = float(b.hole_area_cm2[0]) * 100 / max(float(b.floor_area_mm2[0]), 1.0)
        rows.append(
            Fact(
                "Drain holes",
                f"{len(pot.drain_holes)}, {share:.1%} of the floor",
                "fits" if share >= 0.02 else "watch" if share else "no",
            )
        )
    rows.append(
        Fact(
            "Lift-out",
            "straight out" if under <= 0.05 else f"lip traps {u.mm(under)} a side",
            "fits" if under <= 0.05 else "watch",
        )
    )
    frost = {"yes": "bears frost", "if_drained": "bears frost when drained", "no": "not frost-proof"}[
        material(pot.material).frost_proof
    ]
    rows.append(Fact("Frost", frost, "watch" if frost.startswith("not") else "fits"))
    return tuple(rows)


@dataclass(frozen=True)
class Suit:
    """How a pot serves one tree."""

    tree: str
    name: str
    verdict: str
    score: float
    reason: str


def suits(collection: Collection, pot: Pot, today: date, units: Units, most: int = 4) -> tuple[Suit, ...]:
    """The trees this pot would serve best, best first."""
    found = []
    for tree in collection.trees.values():
        entry = rank(case_for(collection, tree.id, today=today), (pot,), units).entry(0)
        found.append(Suit(tree.id, tree.name, entry.verdict, entry.score, entry.reason))
    found.sort(key=lambda s: (VERDICTS[s.verdict], -s.score, s.tree))
    return tuple(found[:most])


def parse_holes(text: str) -> tuple[Hole, ...]:
    """Holes written as `x y diameter` in mm, separated by `;`. Raises FieldError saying how to write them."""
    found = []
    for part in text.split(";"):
        if part.strip():
            try:
                x, y, diameter = (float(n.replace(",", ".")) for n in part.split())
            except ValueError as err:
                raise FieldError("holes", f"'{part.strip()}' is not x, y and diameter in mm, such as 60 0 22") from err
            found.append(Hole(x_mm=x, y_mm=y, diameter_mm=diameter))
    return tuple(found)


def holes_typed(text: str, pot: Pot) -> tuple[tuple[Hole, ...], bool]:
    """(holes, whether they are known) as somebody types them: by count, placed as is usual, or as `x y diameter`; `?` for unknown.

    Raises FieldError saying how to write them.
    """
    plain = text.strip()
    if plain == "?":
        return (), False
    parts = [p for p in plain.split(";") if p.strip()]
    if all(re.fullmatch(r"\s*[-+]?[\d.,]+\s+[-+]?[\d.,]+\s+[\d.,]+\s*", p) for p in parts):
        return parse_holes(plain), True
    found = holes_of(plain)
    # figures alone are a count, or two with a plus; more of them were meant as places
    bare = re.fullmatch(r"[-+\d.;\s]+", plain) is not None and re.fullmatch(r"\d+(?:\s*\+\s*\d+)?", plain) is None
    strange = [w for w in re.findall(r"[^\W\d_]{2,}", plain) if not hole_word(w)]
    if bare or strange or found.drain is None or found.doubts:
        raise FieldError(
            "holes",
            f"'{plain[:40]}' is not understood; write 2 x 20, 4 wire, or x, y and diameter in mm, such as 60 0 22",
        )
    return usual_holes(found.drain, found.ties or 0, pot.length_mm, pot.width_mm, found.across_mm, found.tie_mm), True


# named colours of clays and glazes that are offered as swatches
SWATCHES = (
    "brown", "red brown", "dark brown", "grey", "black", "cream", "white", "yellow", "green", "dark green", "turquoise", "light blue", "blue", "dark blue",
)  # fmt: skip


def colour_typed(text: str) -> str:
    """A colour as somebody types it: '#2F5C8A', 'blue', 'dunkelgrün'. Raises FieldError saying how to write one."""
    plain = text.strip()
    if re.fullmatch(r"#?[0-9A-Fa-f]{6}", plain):
        return f"#{plain.lstrip('#')}"
    colour = look_of(plain, slips=(plain,)).colour
    if colour is None:
        raise FieldError("colour", f"'{plain[:40]}' is no colour; write one such as blue, dark green, or #2F5C8A")
    return colour


def hole_words(holes: Sequence[Hole]) -> str:
    """Holes as they are typed."""
    return "; ".join(f"{h.x_mm:g} {h.y_mm:g} {h.diameter_mm:g}" for h in holes)
