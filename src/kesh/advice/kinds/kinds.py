"""The kinds of special plantings as one table: what each is called, what it changes, which styles and purposes bring it, what is not asked of it."""

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType

from kesh.model import Planting, Record, Tree
from kesh.model.special import Aerial, Companion, Cutting, Desert, Graft, Layer, Slab, Tub, Tube

DISPLAY = ("depth_band", "length_band", "width_band", "visual_mass")


@dataclass(frozen=True)
class KindRow:
    """One kind: `field` of the planting that holds its record, `start` a record to begin with, `off` the rules of display that are not asked."""

    key: str
    words: str
    changes: str
    field: str = ""
    start: Record | None = None
    styles: tuple[str, ...] = ()
    off: tuple[str, ...] = ()
    why_off: str = ""


KIND_ROWS: Mapping[str, KindRow] = MappingProxyType(
    {
        row.key: row
        for row in (
            KindRow("plain", "Plain", "A tree in a pot: nothing is changed."),
            KindRow("group", "Group", "Its trees, ground and sight lines stand in step Group; the tray is judged for all of them together.", styles=("forest", "clump", "multi_trunk")),
            KindRow("pair", "Pair", "Two trunks: step Group tells how they stand to each other from front and back.", styles=("twin_trunk",)),
            KindRow("rock", "On a rock", "Its roots go over a rock to the soil: each way is measured against its root, moss bridges what is short, and the rock stands with the tree.", "rock", None, ("root_over_rock",), ("depth_band", "visual_mass", "root_depth", "soil_line"), "its roots go down the rock, which is part of the picture"),
            KindRow("exposed_root", "Root tube", "Its roots grow down a tube in a cage of wire; the soil is lowered year by year until they are bare.", "tube", Tube(), ("exposed_root",), DISPLAY, "a tube is made for its roots, not for show"),
            KindRow("cascade", "Cascade", "It hangs below the rim: air under the tail, tipping and counterweight decide, and the stand counts.", "", None, ("cascade", "semi_cascade"), ("depth_band", "visual_mass"), "depth follows the tail and the stand"),
            KindRow("layer", "Layer", "A layer is cut free: its leaf is matched to its new roots, its first pot to their spread, and nothing is combed for a year.", "layer", Layer(), (), DISPLAY, "a first pot is for roots"),
            KindRow("fruit_tub", "Fruit tub", "A fruit tree in a tub: potted on by steps, staked, safe in gusts, with room for mulch; two people carry it.", "tub", Tub(), ("container_fruit_tree",), DISPLAY, "a tub is for crop and load"),
            KindRow("desert", "Desert plant", "It stores water: planted dry, watered when all is used and some days more, crown out of rain, never deeper than its highest root.", "desert", Desert(), (), (), ""),
            KindRow("cutting", "Cutting", "It has no roots: depth, stones or rods hold it, the cut dries first, and the watch list tells n of N.", "cutting", Cutting(), (), (*DISPLAY, "root_depth", "root_removal", "root_sides", "lift_out"), "a cutting's pot is for its grip"),
            KindRow("companion", "Two in one pot", "A second plant shares the pot: its sector of the roots is told apart, and it can get a card of its own.", "companion", Companion()),
            KindRow("slab", "Slab or raft", "No walls: a mound held by a ring of moss or clay mud, and the things that stand on it.", "slab", Slab(), ("raft", "landscape_tray"), ("depth_band", "root_depth", "soil_line", "root_removal"), "there is no wall to be deep or to cut roots for: the mound is judged"),
            KindRow("aerial", "Aerial root", "A root is led from the trunk to the soil by a straw or a split tube, straightened once it has thickened.", "aerial", Aerial(), ("banyan",)),
            KindRow("graft", "Approach graft", "A sector of roots is left alone until the graft has grown together.", "graft", Graft()),
        )
    }
)  # fmt: skip
BY_STYLE: Mapping[str, str] = MappingProxyType({style: row.key for row in KIND_ROWS.values() for style in row.styles})


def kind_of(planting: Planting | None, tree: Tree) -> str:
    """What is special about a planting: as chosen, else by the record it carries, else by the tree's style."""
    if planting is not None and planting.kind is not None:
        return planting.kind
    if planting is not None:
        for row in KIND_ROWS.values():
            if row.field and getattr(planting, row.field) is not None:
                return row.key
    return BY_STYLE.get(tree.style, "group" if len(tree.group) > 2 else "pair" if len(tree.group) == 2 else "plain")


def chosen_off(planting: Planting | None) -> tuple[tuple[str, ...], str]:
    """(rules of display that are not asked of a planting whose kind was chosen, why)."""
    if planting is None or planting.kind is None:
        return (), ""
    row = KIND_ROWS[planting.kind]
    return row.off, row.why_off
