"""Renders and cut-outs that tests look at, kept on the disk by what they come from: the code that makes them, and its parameters.

They are made anew when any of that code changes, and all of them when KESH_FULL is set, as `./check --full` does.
"""

import ast
import contextlib
import functools
import hashlib
import os
import pickle
import re
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar

import numpy as np

from kesh.photo.view import Hints

ROOT = Path(__file__).parents[1]
# a machine that checks many fresh clones keeps them beside these, not in them
FOLDER = Path(os.environ.get("KESH_KEPT") or ROOT / ".cache" / "tests")
# whatever a render or a cut-out hangs on
MAKERS = (
    "src/kesh/photo",
    "src/kesh/figure",
    "src/kesh/geometry",
    "src/kesh/model",
    "src/kesh/demo",
    "src/kesh/reference",
)
# what a cut-out hangs on when its picture stands in its key: what cuts it, and all that reaches for
CUTTER = "kesh.photo.silhouette"
HELPERS = ("tests/photo/other_camera.py", "tests/photo/garden.py", "tests/photo/test_measuring.py", "tests/kept.py")
KEEP_SETS = 16
# whether everything is made anew, as `./check --full` does
FULL = bool(os.environ.get("KESH_FULL"))


def examples(many: int) -> int:
    """How many cases of a property are tried: a dozen while working, a hundred or as many as it asks for in the full check."""
    return max(many, 100) if FULL else min(many, 12)


F = TypeVar("F", bound=Callable[..., Any])


@functools.cache
def reached(module: str) -> tuple[str, ...]:
    """The files of a module and of all it imports, from the root."""
    seen: set[str] = set()
    todo = [module]
    while todo:
        name = todo.pop()
        path = ROOT / "src" / f"{name.replace('.', '/')}.py"
        if name in seen or not path.exists():
            continue
        seen.add(name)
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.ImportFrom) and node.module and node.module.startswith("kesh"):
                todo += [node.module, *(f"{node.module}.{one.name}" for one in node.names)]
    return tuple(sorted(f"src/{name.replace('.', '/')}.py" for name in seen))


@functools.cache
def digest(makers: tuple[str, ...] = MAKERS) -> str:
    """Of all code and tables that make what is kept, and of the libraries that do the arithmetic."""
    import cv2
    import numpy as np

    total = hashlib.sha256(f"{np.__version__} {cv2.__version__}".encode())
    files = [
        p
        for folder in makers
        for p in ([ROOT / folder] if folder.endswith(".py") else sorted((ROOT / folder).rglob("*")))
        if p.suffix in (".py", ".csv", ".toml", ".json")
    ]
    for path in [*files, *(ROOT / name for name in (HELPERS if makers == MAKERS else ()))]:
        total.update(path.name.encode() + path.read_bytes())
    return total.hexdigest()[:24]


def _age(path: Path) -> float:
    """When a folder was last used; another worker may have taken it away meanwhile."""
    try:
        return path.stat().st_mtime
    except FileNotFoundError:
        return 0.0


@functools.cache
def _folder(makers: tuple[str, ...]) -> Path:
    here = FOLDER / digest(makers)
    here.mkdir(parents=True, exist_ok=True)
    here.touch()
    # the examples that failed once stand beside the sets, and stay
    sets = [p for p in FOLDER.iterdir() if p != here and re.fullmatch("[0-9a-f]{24}", p.name)]
    old = sorted(sets, key=_age, reverse=True)
    for path in old[KEEP_SETS - 1 :]:
        for one in path.glob("*"):
            one.unlink(missing_ok=True)
        with contextlib.suppress(OSError):
            path.rmdir()
    return here


@functools.cache
def _fresh(name: str) -> bool:
    """Whether something kept may not be used in a full check: it is made once in this process and kept anew."""
    return FULL


def by_key(name: str, key: str, make: Callable[[], Any], makers: tuple[str, ...] = MAKERS) -> Any:
    """What `make` makes, from the disk where it stands there for this key and the code of `makers`."""
    path = _folder(makers) / f"{name}-{hashlib.sha256(key.encode()).hexdigest()[:24]}.pickle"
    if path.exists() and not _fresh(name):
        return pickle.loads(path.read_bytes())
    made = make()
    path.parent.mkdir(parents=True, exist_ok=True)
    with tempfile.NamedTemporaryFile(dir=path.parent, delete=False) as file:
        pickle.dump(made, file, protocol=5)
    Path(file.name).replace(path)
    return made


def kept_cut(image: np.ndarray, hints: Hints, make: Callable[[], Any]) -> Any:
    """A cut-out, by its picture and its marks: it is made anew only when the code that cuts changes."""
    card = None if hints.not_tree is None else np.asarray(hints.not_tree).tobytes()
    loop = None if hints.loop is None else np.asarray(hints.loop).tobytes()
    words = f"{hashlib.sha256(image.tobytes()).hexdigest()} {hints.soil} {hints.apex} {card!r} {loop!r}"
    return by_key("cut", words, make, reached(CUTTER))


def kept(function: F) -> F:
    """A function of plain parameters whose results are kept for this run in memory and for the next on the disk."""

    # a picture is megabytes: only the last few stay in memory
    @functools.lru_cache(maxsize=6)
    def found(*args: Any, **more: Any) -> Any:
        key = repr((args, sorted(more.items())))
        return by_key(function.__name__, key, lambda: function(*args, **more))

    return functools.wraps(function)(found)  # type: ignore[return-value]
