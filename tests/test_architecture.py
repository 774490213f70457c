"""Data flows one way; nothing but the user interface knows Qt; and the guard is shown to bite."""

import ast
import os
import re
import shutil
import subprocess
import sys
from pathlib import Path

import grimp
import pytest

CORE = ("base", "model", "reference", "geometry", "science", "advice", "figure", "store", "formats", "demo", "desk")
LAYERS = (
    ("base",),
    ("model",),
    ("reference",),
    ("geometry",),
    ("science",),
    ("figure",),
    ("advice",),
    ("store", "formats"),
    ("demo",),
    ("desk",),
    ("ui",),
    ("line",),
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
    graph.add_import(importer="kesh.science.season.season", imported="kesh.science.helper")
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


OFFENDERS = (
    ("base.status", "kesh.model.tree"), ("model.tree", "kesh.reference.tables"), ("science.roots.fit", "kesh.advice.assess"), ("advice.finding", "kesh.desk.lineup"),
    ("photo.view", "kesh.demo.photographs.tree"), ("desk.bench", "kesh.ui.session"), ("ui.session", "kesh.line.main"), ("desk.ids", "PyQt6.QtCore"),
)  # fmt: skip


def test_the_contract_bites_planted_offenders(tmp_path: Path) -> None:
    root = SRC.parents[1]
    shutil.copytree(root / "src", tmp_path / "src", ignore=shutil.ignore_patterns("__pycache__", "*.jpg", "*.egg-info"))
    shutil.copy(root / "pyproject.toml", tmp_path)
    for importer, imported in OFFENDERS:
        with (tmp_path / "src" / "kesh" / f"{importer.replace('.', '/')}.py").open("a") as file:
            file.write(f"\nimport {imported}\n")
    words = [Path(sys.executable).with_name("lint-imports"), "--no-cache"]
    told = subprocess.run(words, cwd=tmp_path, env={**os.environ, "PYTHONPATH": str(tmp_path / "src")}, capture_output=True, text=True)  # fmt: skip
    assert told.returncode != 0
    for importer, imported in OFFENDERS:
        of, by = imported.split(".PyQt6")[0].replace(".QtCore", ""), f"kesh.{importer}"
        assert f"{by} -> {of}" in told.stdout, (importer, imported)


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
