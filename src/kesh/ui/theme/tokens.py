"""Colours by role, light and dark. Widgets and painters ask for a role, never for a value."""

from dataclasses import dataclass, fields
from functools import lru_cache

from PyQt6.QtGui import QColor


@lru_cache(maxsize=512)
def _made(value: str, alpha: float) -> QColor:
    """Reading a colour from its text, even copying it, is slow enough to be felt while something is dragged."""
    color = QColor(value)
    color.setAlphaF(alpha)
    return color


@dataclass(frozen=True)
class Theme:
    """One set of colour values; a theme swaps values only."""

    name: str
    desk: str
    list: str
    panel: str
    sheet: str
    field: str
    rule: str
    edge: str
    ink: str
    quiet: str
    moss: str
    moss_fill: str
    moss_tint: str
    ochre: str
    ochre_fill: str
    ochre_tint: str
    oxide: str
    oxide_fill: str
    oxide_tint: str
    indigo: str
    indigo_fill: str
    indigo_tint: str
    bark: str
    bark_dark: str
    soil: str
    leaf_light: str
    leaf_mid: str
    leaf_dark: str

    def color(self, role: str, alpha: float = 1.0) -> QColor:
        """A role as a colour. It is shared: who changes it takes a copy."""
        return _made(getattr(self, role), alpha)

    @property
    def is_dark(self) -> bool:
        """Whether the sheet is darker than the ink."""
        return _made(self.sheet, 1.0).lightness() < _made(self.ink, 1.0).lightness()


LIGHT = Theme(
    "light", "#D9D2C3", "#E9E3D7", "#F1ECE2", "#FBF8F0", "#FDFBF6", "#CFC7B7", "#8A8272", "#25221D", "#595246",
    "#43572A", "#71844D", "#DFE5CD", "#765108", "#C4902F", "#F3E5C3", "#8C3A22", "#B4593B", "#F0D9CC",
    "#2C4A72", "#5B7CA6", "#D6E0EB", "#A9977F", "#4A3D31", "#6E6152", "#B5BA8C", "#7B8656", "#424C2F",
)  # fmt: skip
DARK = Theme(
    "dark", "#151412", "#1D1B18", "#23211D", "#2A2723", "#1A1815", "#423D35", "#837A6A", "#EDE6D8", "#B8AE9C",
    "#B3C78A", "#7F9456", "#333B26", "#E2B968", "#B98A31", "#423518", "#E79C80", "#B4593B", "#46291E",
    "#A3BEE2", "#5B7CA6", "#26344A", "#8E7E69", "#1C1713", "#5B5044", "#9AA66F", "#61713F", "#2A351F",
)  # fmt: skip
THEMES = {theme.name: theme for theme in (LIGHT, DARK)}
STATUS_ROLE = {"fits": "moss", "watch": "ochre", "no": "oxide", "unknown": "quiet"}
STATUS_WORD = {"fits": "Fits", "watch": "Watch", "no": "No", "unknown": "Not measured"}
ROLES = tuple(f.name for f in fields(Theme) if f.name != "name")


def mixed(a: QColor, b: QColor, share: float) -> QColor:
    """a moved towards b by a share 0..1. It is shared as a role's colour is."""
    return _mixed(a.rgb(), b.rgb(), float(share))


@lru_cache(maxsize=2048)
def _mixed(a: int, b: int, share: float) -> QColor:
    one, two = QColor(a).getRgbF()[:3], QColor(b).getRgbF()[:3]
    return QColor.fromRgbF(*(float(x + (y - x) * share) for x, y in zip(one, two, strict=True)))
