"""How a cut-out is learnt: one careful setting that draws it, and others beside it that show where it is in doubt."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Setting:
    """Shares are 0..1; softening and spreading are standard deviations in px at the working size.

    work_px: longer side of the part that is looked at. soften_px: before colours are told apart. spread_px, spread: how
    far, and how much, neighbours speak for each other. texture: weight of texture beside colour. shadow: how often each
    colour of the ground is taken to lie in shade too. ground_here, tree_here: how much the colours of the neighbourhood
    count against those of the whole picture. seed: weight of the stem above the soil mark. rare: a colour that outside
    is rarer than this share of what is seen there begins as tree, by so much (margin, log odds).
    """

    work_px: int = 760
    soften_px: float = 0.5
    spread_px: float = 1.0
    spread: float = 0.5
    last_spread: float = 0.0
    texture: float = 0.3
    shadow: float = 0.06
    ground_here: float = 0.7
    tree_here: float = 0.5
    seed: float = 20.0
    rare: float = 0.95
    margin: float = 0.7
    turns: int = 6
    smooth: float = 1.0


CAREFUL = Setting()
_ROUGH = {"work_px": 420, "soften_px": 0.7, "turns": 5, "last_spread": 0.3}
# the same picture seen with other eyes: less detail, and in turn other weights of texture, shade, place and stem
OTHERS = (
    Setting(spread_px=1.2, **_ROUGH),  # type: ignore[arg-type]
    Setting(spread_px=1.2, texture=0.6, shadow=0.15, **_ROUGH),  # type: ignore[arg-type]
    Setting(spread_px=1.5, texture=0.15, ground_here=0.4, **_ROUGH),  # type: ignore[arg-type]
    Setting(spread_px=1.0, tree_here=0.7, seed=40.0, rare=0.9, margin=0.4, **_ROUGH),  # type: ignore[arg-type]
)
