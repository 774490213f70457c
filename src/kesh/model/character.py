"""What is particular about a tree: traits of its character by strength, and features at a height on its trunk."""

from typing import Annotated, Literal, get_args

from pydantic import Field

from kesh.model.base import Record, SignedMm, Text

TraitKind = Literal[
    "powerful", "delicate", "moving_trunk", "rough_bark", "smooth_bark", "deadwood", "blooms", "fruits", "autumn_colour"
]
FeatureKind = Literal["top_roots", "aerial_root", "reverse_taper", "wound", "tap_root"]
TRAITS: tuple[TraitKind, ...] = get_args(TraitKind)
FEATURES: tuple[FeatureKind, ...] = get_args(FeatureKind)


class Trait(Record):
    """One trait: 1 slight, 2 clear, 3 strong."""

    kind: TraitKind
    strength: Annotated[int, Field(ge=1, le=3)] = 2


class Feature(Record):
    """Something at a height above (+) or below (-) the present soil line.

    top_roots: where they leave the trunk. aerial_root: its tip. reverse_taper: the bulge. wound: its lower edge.
    tap_root: its lower end.
    """

    kind: FeatureKind
    height_mm: SignedMm
    note: Text = ""
