"""Settings as declared rows: default, what is allowed, label. Kept as JSON, written beside and swapped."""

import json
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from kesh.base.errors import FieldError, KeshError
from kesh.base.paths import settings_file
from kesh.base.units import Units
from kesh.base.writing import write_text

MONEY = ("£", "€", "$", "¥", "Fr", "kr")


@dataclass(frozen=True)
class Setting:
    """One setting; `options` for a choice, low and high for a number, neither for free text."""

    key: str
    label: str
    default: Any
    options: tuple[str, ...] = ()
    low: float | None = None
    high: float | None = None

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
        Setting("length", "Lengths in", "mm", options=("mm", "cm", "inch")),
        Setting("volume", "Volumes in", "l", options=("l", "quart")),
        Setting("mass", "Masses in", "kg", options=("kg", "lb")),
        Setting("money", "Money in", "£", options=MONEY),
        Setting("theme", "Theme", "light", options=("light", "dark")),
        Setting("text_percent", "Text size, %", 100, low=80, high=200),
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
        return Units(self.get("length"), self.get("volume"), self.get("mass"))
