"""What colour a pot has beside this tree, through the seasons, and what both schools would say of it."""

from collections.abc import Mapping
from dataclasses import dataclass

from kesh.advice.assess import Assessment
from kesh.science.looks.colour import PULL_BAND, ColourLine, compared, pull

SEASONS = ("in leaf", "in autumn", "bare", "in flower or fruit")
# glazes and clays to try, by generic names
SWATCHES: Mapping[str, str] = {
    "brown clay": "#7B5A48", "red clay": "#8E4B34", "grey clay": "#77736C", "dark clay": "#463F3A", "buff clay": "#B79B78",
    "cream glaze": "#D9CDB2", "celadon glaze": "#9DB29A", "oribe green glaze": "#5E7350", "deep blue glaze": "#33507F",
    "pale blue glaze": "#8FA9BF", "ochre glaze": "#B88A3E", "iron red glaze": "#8A3A2C",
}  # fmt: skip


@dataclass(frozen=True)
class ColourAdvice:
    """The pot against each colour of the tree, its pull by season with the band, and a sentence of each side."""

    lines: tuple[ColourLine, ...]
    pulls: tuple[tuple[str, float], ...]
    low: float
    high: float
    tradition: str
    freedom: str

    @property
    def status(self) -> str:
        """fits when the pull stays inside the band through the seasons, watch when not, unknown without colours."""
        if not self.pulls:
            return "unknown"
        return "fits" if all(self.low <= p <= self.high for _, p in self.pulls) else "watch"


def colour_advice(a: Assessment, pot_colour: str | None = None, seen: Mapping[str, str] | None = None) -> ColourAdvice:
    """Advice on the pot's colour, or on a colour tried on it. `seen` are bark and leaf read off a photograph."""
    species, colour = a.case.species, pot_colour or a.pot.colour
    parts: dict[str, str | None] = {"bark": None, "leaf": None, "autumn": None, "flower or fruit": None}
    if species is not None:
        parts = {
            "bark": species.bark_colour_hex or None, "leaf": species.leaf_colour_hex or None,
            "autumn": species.autumn_colour_hex or None, "flower or fruit": species.flower_or_fruit_colour_hex or None,
        }  # fmt: skip
    parts |= dict(seen or {})
    bark, leaf = parts["bark"], parts["leaf"]
    pulls = []
    if bark and leaf:
        looks = {"in leaf": {leaf: 0.75, bark: 0.25}}
        if parts["autumn"]:
            looks["in autumn"] = {parts["autumn"]: 0.75, bark: 0.25}
        if species is not None and species.sheds_leaves:
            looks["bare"] = {bark: 1.0}
        if parts["flower or fruit"]:
            looks["in flower or fruit"] = {parts["flower or fruit"]: 0.3, leaf: 0.5, bark: 0.2}
        pulls = [(season, pull(colour, mixture)) for season, mixture in looks.items()]
    unglazed = species is not None and (species.group == "conifer" or species.glaze_tradition == "unglazed")
    tradition = (
        "Tradition: unglazed clay near the bark for conifers and powerful trees; the pot stays behind the tree."
        if unglazed
        else "Tradition: a quiet glaze that echoes the bark, or answers flower, fruit or autumn leaf; never brighter than they."
    )
    freedom = "The freer school: any colour, as long as the tree is seen first; look at the pull through the year."
    return ColourAdvice(compared(colour, parts), tuple(pulls), *PULL_BAND, tradition, freedom)
