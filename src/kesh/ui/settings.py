"""Settings as declared rows: default, what is allowed, label. Kept as JSON, written beside and swapped."""

import json
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from kesh.base.errors import FieldError, KeshError
from kesh.base.paths import settings_file
from kesh.base.units import Units
from kesh.base.writing import write_text
from kesh.reference.schools import schools

FIGURES, LOOK, KEEPING = "Figures", "Look", "Judging and keeping"
MONEY = ("£", "€", "$", "¥", "Fr", "kr")


@dataclass(frozen=True)
class Setting:
    """One setting; `options` for a choice, low and high for a number, neither for free text.

    `group` is where it stands on the settings page; without one it does not stand there. `words` say what an option is.
    """

    key: str
    label: str
    default: Any
    options: tuple[str, ...] = ()
    low: float | None = None
    high: float | None = None
    group: str = ""
    words: tuple[str, ...] = ()

    def read(self, value: Any) -> Any:
        """The value, or the default when it is not allowed."""
        if self.options:
            return value if value in self.options else self.default
        if self.low is not None and self.high is not None:
            good = isinstance(value, int | float) and not isinstance(value, bool) and self.low <= value <= self.high
            return value if good else self.default
        return value if isinstance(value, str) else self.default


SETTINGS = {
    row.key: row
    for row in (
        Setting(
            "length",
            "Lengths",
            "mm",
            options=("mm", "cm", "inch"),
            group=FIGURES,
            words=("millimetres", "centimetres", "inches; heights above the sea in feet"),
        ),
        Setting(
            "volume",
            "Volumes",
            "l",
            options=("l", "quart", "gallon"),
            group=FIGURES,
            words=("litres", "quarts", "gallons"),
        ),
        Setting("mass", "Masses", "kg", options=("kg", "lb"), group=FIGURES, words=("kilograms", "pounds")),
        Setting("heat", "Warmth", "C", options=("C", "F"), group=FIGURES, words=("°C", "°F")),
        Setting(
            "wind",
            "Wind",
            "m/s",
            options=("m/s", "km/h", "mph"),
            group=FIGURES,
            words=("metres a second", "kilometres an hour", "miles an hour"),
        ),
        Setting("money", "Money", "£", options=MONEY, group=FIGURES, words=MONEY),
        Setting(
            "week",
            "Weeks begin on",
            "monday",
            options=("monday", "sunday", "saturday"),
            group=FIGURES,
            words=("Monday", "Sunday", "Saturday"),
        ),
        Setting("theme", "Theme", "light", options=("light", "dark"), group=LOOK, words=("light", "dark")),
        Setting("text_percent", "Text size", 100, low=80, high=200, group=LOOK),
        Setting(
            "school",
            "New trees are judged by",
            "classical",
            options=tuple(schools()),
            group=KEEPING,
            words=tuple(s.name for s in schools().values()),
        ),
        Setting("folder", "Files go to", "", group=KEEPING),
        Setting("last_file", "Last collection", ""),
        Setting("making", "What the makers bring", ""),
    )
}


class Settings:
    """The settings in force. A damaged file reads as defaults and is replaced at the next change."""

    def __init__(self) -> None:
        self._values: dict[str, Any] = {}
        try:
            found = json.loads(settings_file().read_text(encoding="utf-8"))
        except (OSError, ValueError):
            found = {}
        if isinstance(found, Mapping):
            self._values = {key: SETTINGS[key].read(value) for key, value in found.items() if key in SETTINGS}

    def get(self, key: str) -> Any:
        """A value, the default when it was never set."""
        return self._values.get(key, SETTINGS[key].default)

    def put(self, key: str, value: Any) -> None:
        """Set a value and write it. Raises FieldError when it is not allowed; an unwritable folder is no error."""
        if SETTINGS[key].read(value) != value:
            raise FieldError(SETTINGS[key].label, f"'{value}' is not allowed here")
        self._values[key] = value
        try:
            settings_file().parent.mkdir(parents=True, exist_ok=True)
            write_text(settings_file(), json.dumps(self._values, indent=1))
        except (OSError, KeshError):
            # a read-only home must not keep anybody from working; the choice holds until the window closes
            return

    def units(self) -> Units:
        """Units for reading and typing."""
        return Units(self.get("length"), self.get("volume"), self.get("mass"), self.get("heat"), self.get("wind"))
