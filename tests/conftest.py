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
from tests.kept import FULL

# forty cases of each property while working, a hundred in the full check
settings.register_profile(
    "kesh", deadline=None, max_examples=100 if FULL else 40, suppress_health_check=[HealthCheck.too_slow]
)
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


# files whose tests share nothing but what is kept on the disk: their cases may run on any worker
SPREAD = (
    "photo/test_measuring.py", "photo/test_snap.py", "formats/test_making_files.py", "geometry/test_solid.py", "ui/test_look.py",
    "ui/test_settings.py", "ui/test_photo_view.py", "figure/test_pot_mesh.py", "ui/test_workshop_makers.py", "ui/test_places_and_files.py",
)  # fmt: skip


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """With several workers, tests of one file run on one of them, so that what they share is made once; the long files by picture."""
    for item in items:
        name = item.nodeid.split("::")[0].removeprefix("tests/")
        group = name
        if name in SPREAD:
            call = getattr(item, "callspec", None)
            tree = call.params.get("tree") if call is not None else None
            group = f"{name} {tree or item.nodeid}"
        item.add_marker(pytest.mark.xdist_group(group))
