"""How strong a tree looks, from its species and the traits seen in it. The weights are judgement, starting points."""

from collections.abc import Sequence

from kesh.model.character import Trait, TraitKind

# steps on the scale from delicate (-2) to powerful (+2) that a trait adds when it is strong (3) [J]
WEIGHT: dict[TraitKind, float] = {
    "powerful": 2.0,
    "delicate": -2.0,
    "rough_bark": 1.0,
    "smooth_bark": -0.7,
    "deadwood": 1.0,
    "moving_trunk": -0.5,
    "blooms": -0.5,
    "fruits": -0.2,
    "autumn_colour": -0.2,
}
# colour that answers something coloured in the tree counts from this strength on
SHOWN = 2


def strength(species_strength: float | None, traits: Sequence[Trait]) -> float:
    """-2 delicate .. +2 powerful: the species' usual figure (0 when unknown) and each trait by its strength."""
    value = (species_strength or 0.0) + sum(WEIGHT[t.kind] * t.strength / 3 for t in traits)
    return min(max(value, -2.0), 2.0)


def mood(value: float) -> str:
    """The strength in a word, the column of the tradition's table."""
    return "powerful" if value >= 1 else "delicate" if value <= -1 else "balanced"


def strong(traits: Sequence[Trait], *kinds: TraitKind) -> bool:
    """Whether one of these traits is clear or strong."""
    return any(t.kind in kinds and t.strength >= SHOWN for t in traits)
