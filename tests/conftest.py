"""A private home for every test, small builders, and one property profile."""

import os
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from kesh import paths
from kesh.demo.lanternfield import demo_collection
from kesh.model import Collection

settings.register_profile("kesh", deadline=None, max_examples=60, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("kesh")


@pytest.fixture(autouse=True)
def private_home(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> Iterator[Path]:
    """No test can reach the real home."""
    home = tmp_path / "home"
    home.mkdir()
    for name in ("HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME", "XDG_CACHE_HOME"):
        monkeypatch.setenv(name, str(home))
    paths.set_home(home / "kesh")
    yield home
    paths.set_home(None)


@pytest.fixture(scope="session")
def demo() -> Collection:
    """The demo collection."""
    return demo_collection()
