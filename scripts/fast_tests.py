"""The tests of the core and of what changed, for `./check --fast`; words on the command line go to the test runner.

Changed means: not committed yet. The tests of a module are those that reach it in the fewest imports, by the import graph.
"""

import ast
import re
import subprocess
import sys
from collections import deque
from collections.abc import Iterable
from pathlib import Path

ROOT = Path(__file__).parents[1]
# more test files than this are no minute
MANY = 20
CORE = (
    "tests/model",
    "tests/store",
    "tests/reference",
    "tests/test_architecture.py",
    "tests/advice/test_report_contract.py",
)
# rooms are named as module:class where they are opened, and imported only then
WALKED = re.compile(r"iter_modules\((?:(\w+)\.__path__)?")
NAMED = re.compile(r"^(kesh(?:\.\w+)+):\w+$")


def changed() -> list[str]:
    """Paths that differ from the last commit, new ones included; none outside a checkout."""
    found = subprocess.run(
        ["git", "status", "--porcelain", "-uall"], cwd=ROOT, capture_output=True, text=True, check=False
    )
    return [line[3:].split(" -> ")[-1] for line in found.stdout.splitlines()]


def module_of(path: Path, root: Path = ROOT) -> str:
    """The dotted name of a file of the package or of its tests."""
    parts = path.relative_to(root).with_suffix("").parts
    parts = parts[1:] if parts[0] == "src" else parts
    return ".".join(parts[:-1] if parts[-1] == "__init__" else parts)


def imports_of(path: Path) -> set[str]:
    """Every module that a file names in its imports, at the top or inside a function, and every room it names."""
    found: set[str] = set()
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Import):
            found |= {one.name for one in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module and not node.level:
            found |= {node.module, *(f"{node.module}.{one.name}" for one in node.names)}
        elif isinstance(node, ast.Constant) and isinstance(node.value, str) and (named := NAMED.match(node.value)):
            found.add(named[1])
    return found


def found_by_file(path: Path, name: str, files: dict[str, Path]) -> set[str]:
    """The modules of a folder that a file opens by their names: of the package it walks, else of its own."""
    walked = WALKED.search(path.read_text(encoding="utf-8"))
    if walked is None:
        return set()
    own = name.rpartition(".")[0]
    folder = next((m for m in imports_of(path) if walked[1] and m.endswith(f".{walked[1]}")), own)
    return {m for m in files if m.rpartition(".")[0] == folder}


def importers(root: Path = ROOT) -> dict[str, set[str]]:
    """Who imports a module, by its name; what a package's own face hands on is charged to the module it comes from."""
    files = {module_of(p, root): p for folder in ("src", "tests") for p in sorted((root / folder).rglob("*.py"))}
    found: dict[str, set[str]] = {name: set() for name in files}
    for name, path in files.items():
        for wanted in imports_of(path) | found_by_file(path, name, files):
            if wanted in files and wanted != name:
                found[wanted].add(name)
    return found


def nearest_tests(module: str, by: dict[str, set[str]]) -> set[str]:
    """Test modules that reach a module in the fewest steps; none where no test does."""
    seen, rank = {module}, deque([module])
    while rank:
        found: set[str] = set()
        for _ in range(len(rank)):
            for one in by.get(rank.popleft(), ()):
                if one.split(".")[-1].startswith("test_"):
                    found.add(one)
                elif one not in seen:
                    seen.add(one)
                    rank.append(one)
        if found:
            return found
    return set()


def wanted(paths: Iterable[str], root: Path = ROOT) -> set[str]:
    """Tests for changed paths: a test that changed, and those nearest to a module that did."""
    by = importers(root)
    found = set()
    for path in paths:
        if not path.endswith(".py") or not path.startswith(("src/", "tests/")) or not (root / path).exists():
            continue
        module = module_of(root / path, root)
        near = {module} if Path(path).name.startswith("test_") else nearest_tests(module, by)
        if len(near) > MANY:
            # what everybody uses has tests of its own in the folder that mirrors its own
            mirror = "tests." + ".".join(module.split(".")[1:-1]) + "."
            near = {name for name in near if name.startswith(mirror)} or near
        found |= {f"{name.replace('.', '/')}.py" for name in near}
    return found


def main() -> int:
    """Run them."""
    there = sorted(path for path in {*CORE, *wanted(changed())} if (ROOT / path).exists())
    return subprocess.run([sys.executable, "-m", "pytest", *there, *sys.argv[1:]], cwd=ROOT, check=False).returncode


if __name__ == "__main__":
    raise SystemExit(main())
