"""Data flows one way; nothing but the user interface knows Qt; and the guard is shown to bite."""

import ast
import re
from pathlib import Path

import grimp
import pytest

CORE = ("model", "reference", "geometry", "science", "advice", "figure", "store", "formats", "demo")
LAYERS = (
    ("model",),
    ("reference",),
    ("geometry",),
    ("science",),
    ("figure",),
    ("advice",),
    ("store", "formats"),
    ("demo",),
    ("ui",),
)
SRC = Path(__file__).parents[1] / "src" / "kesh"


@pytest.fixture(scope="module")
def graph() -> grimp.ImportGraph:
    return grimp.build_graph("kesh", include_external_packages=True, cache_dir=None)


def leaks(graph: grimp.ImportGraph, package: str) -> bool:
    """Whether a package reaches Qt, directly or through others."""
    return any(
        graph.chain_exists(importer=f"kesh.{package}", imported=toolkit, as_packages=True)
        for toolkit in ("PyQt6", "pyqtgraph")
        if toolkit in graph.modules
    )


@pytest.mark.parametrize("package", CORE)
def test_the_core_never_reaches_qt(graph: grimp.ImportGraph, package: str) -> None:
    assert not leaks(graph, package)


def test_the_guard_bites_a_planted_leak(graph: grimp.ImportGraph) -> None:
    assert leaks(graph, "ui"), "the guard must see a package that does use Qt"
    graph.add_module("kesh.science.helper")
    graph.add_import(importer="kesh.science.season", imported="kesh.science.helper")
    graph.add_import(importer="kesh.science.helper", imported="PyQt6")
    assert leaks(graph, "science")
    graph.remove_import(importer="kesh.science.helper", imported="PyQt6")
    graph.remove_module("kesh.science.helper")
    assert not leaks(graph, "science")


def test_no_layer_imports_one_above(graph: grimp.ImportGraph) -> None:
    for low, names in enumerate(LAYERS):
        for higher in LAYERS[low + 1 :]:
            for name in names:
                for above in higher:
                    assert not graph.chain_exists(
                        importer=f"kesh.{name}", imported=f"kesh.{above}", as_packages=True
                    ), (name, above)


def test_what_a_state_shows_needs_no_window() -> None:
    for path in (SRC / "ui" / "state").glob("*.py"):
        imports = {n.module or "" for n in ast.walk(ast.parse(path.read_text())) if isinstance(n, ast.ImportFrom)}
        assert not any(
            m.startswith("PyQt6") or (m.startswith("kesh.ui") and not m.startswith("kesh.ui.state")) for m in imports
        ), path.name


def test_public_functions_say_what_they_do() -> None:
    for path in SRC.rglob("*.py"):
        tree = ast.parse(path.read_text())
        assert ast.get_docstring(tree) or not tree.body, path
        if "ui" in path.parts:
            continue
        for node in tree.body:
            if (
                isinstance(node, ast.FunctionDef | ast.ClassDef)
                and not node.name.startswith("_")
                and not node.name.startswith("Bundle")
            ):
                assert ast.get_docstring(node), f"{path.name}: {node.name}"


def test_no_file_grows_out_of_hand() -> None:
    for path in SRC.rglob("*.py"):
        assert len(path.read_text().splitlines()) <= 450, path


def test_what_a_comment_cites_stands_in_the_docs() -> None:
    said = (SRC.parents[1] / "docs" / "methods.md").read_text()
    rows = {line.split("|")[1].strip() for line in said.splitlines() if line.startswith("| ")}
    cited = [
        (path.name, name)
        for path in SRC.rglob("*.py")
        for name in re.findall(r'docs/methods\.md(?:, | says under )"([^"]+)"', path.read_text())
    ]
    assert len(cited) > 15
    assert [one for one in cited if one[1] not in rows] == []
    assert not [
        p.name for p in SRC.rglob("*.py") if re.search(r"methods(-2)?, section|design(-2)? section", p.read_text())
    ]
