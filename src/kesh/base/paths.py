"""Every folder Kesh touches. Importing this creates nothing; one option moves them all."""

from datetime import datetime
from pathlib import Path

import platformdirs

_home: Path | None = None


def set_home(folder: Path | None) -> None:
    """Keep settings and collections under one folder, so that anyone can try a clean profile."""
    global _home
    _home = folder


def config_dir() -> Path:
    """Where the settings stand."""
    return _home / "settings" if _home else Path(platformdirs.user_config_dir("kesh"))


def data_dir() -> Path:
    """Where collections stand that were never given a place of their own."""
    return _home / "collections" if _home else Path(platformdirs.user_data_dir("kesh"))


def settings_file() -> Path:
    """The settings."""
    return config_dir() / "settings.json"


def own_collection() -> Path:
    """The collection that opens when none is named."""
    return data_dir() / "My bench.kesh"


def demo_file(now: datetime) -> Path:
    """A new place for a fresh copy of the demo collection; earlier copies keep what was tried in them."""
    stem = f"Lanternfield bench {now:%Y-%m-%d %H%M%S}"
    found, more = data_dir() / "demo" / f"{stem}.kesh", 2
    while found.exists():
        found, more = data_dir() / "demo" / f"{stem} {more}.kesh", more + 1
    return found
