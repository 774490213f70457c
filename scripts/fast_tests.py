"""The tests of the core and of what changed, for `./check --fast`; words on the command line go to the test runner.

Changed means: not committed yet. A changed module of src/kesh/ stands for the tests of the folder that mirrors it.
"""

import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parents[1]
CORE = (
    "tests/model",
    "tests/store",
    "tests/reference",
    "tests/test_architecture.py",
    "tests/advice/test_report_contract.py",
)
# rooms have their tests by subject, not by folder
UI = "tests/ui"


def changed() -> list[str]:
    """Paths that differ from the last commit, new ones included; none outside a checkout."""
    found = subprocess.run(
        ["git", "status", "--porcelain", "-uall"], cwd=ROOT, capture_output=True, text=True, check=False
    )
    return [line[3:].split(" -> ")[-1] for line in found.stdout.splitlines()]


def tests_of(path: str) -> str | None:
    """The test or folder of tests that a changed path stands for."""
    parts = Path(path).parts
    if parts[:1] == ("tests",) and path.endswith(".py") and Path(path).name.startswith("test_"):
        return path
    if parts[:3] == ("src", "kesh", "ui"):
        return UI
    if parts[:2] == ("src", "kesh") and len(parts) > 3:
        return str(Path("tests", *parts[2:-1]))
    return None


def main() -> int:
    """Run them."""
    wanted = {*CORE, *(found for path in changed() if (found := tests_of(path)) is not None)}
    there = sorted(path for path in wanted if (ROOT / path).exists())
    return subprocess.run([sys.executable, "-m", "pytest", *there, *sys.argv[1:]], cwd=ROOT, check=False).returncode


if __name__ == "__main__":
    raise SystemExit(main())
