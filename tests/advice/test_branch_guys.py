"""Branches bent at potting: told at the bench after the tree is held, and taken off in time."""

from dataclasses import replace
from datetime import date, timedelta

import pytest

from kesh.advice.planting.branches import STAYS_DAYS, guy_words
from kesh.advice.season.book import Book
from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.demo.lanternfield import demo_collection
from kesh.desk.branch_guys import with_branch, with_branch_field, without_branch
from kesh.model import BranchGuy, Planting
from tests.advice.test_planting_plan import plan

BENT = (
    BranchGuy(id="1", branch="second left", anchor="rim", pull_mm=40),
    BranchGuy(id="2", branch="back branch", anchor="root", pad=False, off_by=date(2027, 9, 1)),
)


def planted() -> Planting:
    found = demo_collection().planting_of("tollgate")
    assert found is not None
    return found.changed(branch_guys=BENT)


def test_the_bench_pulls_branches_once_the_tree_is_held_and_its_soil_in() -> None:
    steps = plan(branch_guys=BENT).steps
    keys = [s.key for s in steps]
    assert keys.index("fill") < keys.index("branches") < keys.index("water")
    step = steps[keys.index("branches")]
    assert step.title == "Pull 2 branches into place"
    assert any("Second left: pulled 40 mm from the rim, on a pad." in line for line in step.lines)
    assert any("off by 1 Sep 2027" in line for line in step.lines)
    assert "branches" not in [s.key for s in plan().steps]


def test_a_guy_is_told_in_the_users_unit() -> None:
    assert "pulled 1.57 in from" in guy_words(BENT[0], Units("inch"))
    assert "without a pad" in guy_words(BENT[1], Units("mm"))


def test_each_comes_off_by_its_day_or_half_a_year_after_potting() -> None:
    c, p = demo_collection(), planted()
    c = replace(c, plantings=tuple(p if x.id == p.id else x for x in c.plantings))
    found = {t.id: t for t in Book(c, date(2027, 3, 1)).tasks if t.kind == "take_off_branch"}
    assert found[f"branch-{p.id}-2"].to == date(2027, 9, 1)
    assert p.date is not None
    assert found[f"branch-{p.id}-1"].to == p.date + timedelta(days=STAYS_DAYS)


def test_rows_are_added_named_and_taken_away() -> None:
    p = planted().changed(branch_guys=())
    one = with_branch(with_branch(p))
    assert [g.branch for g in one.branch_guys] == ["branch 1", "branch 2"]
    named = with_branch_field(one, "2", "branch", "apex")
    assert [g.branch for g in named.branch_guys] == ["branch 1", "apex"]
    assert [g.id for g in with_branch(without_branch(named, "1")).branch_guys] == ["2", "1"]
    with pytest.raises(FieldError, match="needs a name"):
        with_branch_field(one, "1", "branch", "  ")
    with pytest.raises(FieldError):
        with_branch_field(one, "1", "pull_mm", -3.0)
