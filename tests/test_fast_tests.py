"""Which tests `./check --fast` picks: those nearest to what changed, by the import graph."""

import importlib.util
from pathlib import Path
from types import ModuleType

import pytest

ROOT = Path(__file__).parents[1]


@pytest.fixture(scope="module")
def fast() -> ModuleType:
    spec = importlib.util.spec_from_file_location("fast_tests", ROOT / "scripts" / "fast_tests.py")
    assert spec is not None
    assert spec.loader is not None
    made = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(made)
    return made


@pytest.fixture
def tree(tmp_path: Path) -> Path:
    files = {
        "src/kesh/__init__.py": "", "src/kesh/low.py": "", "src/kesh/middle.py": "def f():\n    from kesh import low\n",
        "src/kesh/room.py": "import kesh.middle\n", "src/kesh/house.py": "ROOM = 'kesh.room:Face'\n", "src/kesh/alone.py": "",
        "src/kesh/verbs/__init__.py": "", "src/kesh/verbs/say.py": "", "src/kesh/main.py": "from kesh import verbs\nNAMES = list(pkgutil.iter_modules(verbs.__path__))\n",
        "tests/test_main.py": "import kesh.main\n",
        "tests/test_middle.py": "import kesh.middle\n", "tests/test_house.py": "from kesh import house\n", "tests/helper.py": "import kesh.low\n",
    }  # fmt: skip
    for name, text in files.items():
        path = tmp_path / name
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(text)
    return tmp_path


@pytest.mark.parametrize(
    ("changed", "picked"),
    [
        ("src/kesh/low.py", {"tests/test_middle.py"}), ("src/kesh/middle.py", {"tests/test_middle.py"}), ("src/kesh/room.py", {"tests/test_house.py"}),
        ("tests/test_house.py", {"tests/test_house.py"}), ("src/kesh/alone.py", set()), ("docs/guide.md", set()), ("src/kesh/gone.py", set()),
        ("src/kesh/verbs/say.py", {"tests/test_main.py"}),
    ],
)  # fmt: skip
def test_the_nearest_tests_are_picked(fast: ModuleType, tree: Path, changed: str, picked: set[str]) -> None:
    assert fast.wanted([changed], tree) == picked


def test_every_module_that_says_something_has_a_test(fast: ModuleType) -> None:
    by = fast.importers()
    bare = []
    for path in sorted((ROOT / "src").rglob("*.py")):
        lines = path.read_text(encoding="utf-8").splitlines()
        if len(lines) > 5 and path.stem != "__main__" and not fast.nearest_tests(fast.module_of(path), by):
            bare.append(str(path))
    assert bare == []
