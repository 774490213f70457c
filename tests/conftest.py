"""A private home for every test, small builders, and one property profile."""

import os
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from hypothesis import HealthCheck, settings
from hypothesis.database import DirectoryBasedExampleDatabase
from xdist.scheduler import LoadScopeScheduling

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from kesh.base import paths
from kesh.demo.lanternfield import demo_collection
from kesh.model import Collection
from tests.kept import FOLDER, examples

# what failed once is kept and tried first; a dozen fresh cases of each property, a hundred in the full check
settings.register_profile(
    "kesh",
    deadline=None,
    max_examples=examples(100),
    suppress_health_check=[HealthCheck.too_slow],
    database=DirectoryBasedExampleDatabase(FOLDER / "failed-examples"),
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


class ByFile(LoadScopeScheduling):
    """Tests of one file run on one worker, so that what they share is made once; those of the long files go to any.

    Marking groups, as the runner offers it, has no effect with the pinned version of pytest.
    """

    def _split_scope(self, nodeid: str) -> str:
        name = nodeid.split("::")[0]
        return nodeid if name.removeprefix("tests/") in SPREAD else name


@pytest.hookimpl(optionalhook=True)
def pytest_xdist_make_scheduler(config: pytest.Config, log: Any) -> LoadScopeScheduling | None:
    """How tests are dealt out to several workers."""
    return ByFile(config, log) if config.getvalue("dist") == "loadgroup" else None
