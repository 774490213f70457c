"""What a maker's route is: a file that is found, what its maker brings, and what is kept of it."""

import sys
from pathlib import Path

import pytest

from kesh.advice.routes.joiner import BoxWishes
from kesh.advice.routes.printer import PrintWishes
from kesh.advice.routes.routes import job, routes, wishes_of, wishes_text
from kesh.advice.routes.tube import TubeWishes
from kesh.advice.routes.wishes import MakerWishes
from kesh.demo.lanternfield import demo_collection
from kesh.science.making.clay import SampleBar

DEMO = demo_collection()


def test_what_makers_bring_is_kept_as_text_and_damaged_text_reads_as_usual() -> None:
    mine = MakerWishes(
        bars={"porcelain": SampleBar(100, 84, 93, "2026-03-01")}, kiln_mm=(400, 400, 450), people=1,
        own={"print": PrintWishes(bed_mm=(300, 300, 400)), "box": BoxWishes(tub=True, joint="mitre"), "tube": TubeWishes(rings=3)},
    )  # fmt: skip
    assert wishes_of(wishes_text(mine)) == mine
    assert mine.shrinkage_of("porcelain") == pytest.approx(0.16)
    assert mine.shrinkage_of("raku") is None
    for text in ("", "{", '{"people": 7}', '{"bars": {"raku": {"wet_mm": 90, "fired_mm": 100}}}'):
        assert wishes_of(text) == MakerWishes()


def test_what_makers_brought_before_routes_kept_their_own_is_read() -> None:
    old = '{"people": 1, "plastic": "print_asa", "printing": {"clearance_mm": 0.4}, "box": {"tub": true}, "tube": {"rings": 2}}'
    found = wishes_of(old)
    assert found.people == 1
    assert (found.of(PrintWishes).plastic, found.of(PrintWishes).clearance_mm) == ("print_asa", 0.4)
    assert found.of(BoxWishes).tub
    assert found.of(TubeWishes).rings == 2


ROUTE_FILE = """
'''A pot cast from concrete.'''
from dataclasses import dataclass

from kesh.advice.routes.job import Job
from kesh.advice.routes.route import Ask, Route


@dataclass(frozen=True)
class CastWishes:
    wall_mm: float = 25.0


def make(pot, judge, wishes):
    own = wishes.of(CastWishes)
    return Job("cast", f"{pot.name}: cast", pot, (("Wall", f"{own.wall_mm:g} mm"),), (), (), ())


ROUTE = Route("cast", 9, "Cast", "For a caster", "Write the caster's sheet", "Concrete", make, CastWishes,
    asks=(Ask("wall_mm", "mm", "Wall", "--cast-wall", "its wall (25)", "MM"),))
"""


def test_a_route_is_a_file(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    import kesh.advice.routes as folder
    from kesh.line.arguments import verb_parser
    from kesh.line.verb import verb
    from kesh.line.verbs.design import makers_of

    (tmp_path / "cast.py").write_text(ROUTE_FILE)
    monkeypatch.setattr(folder, "__path__", [*folder.__path__, str(tmp_path)])
    routes.cache_clear()
    try:
        assert list(routes())[-1] == "cast"
        # its option stands on the line, what is brought reaches its job and is kept
        args = verb_parser("design", verb("design")).parse_args(["x.json", "--tree", "t", "--cast-wall", "40"])
        mine = makers_of(args)
        assert dict(job("cast", DEMO.pots["ferry-tray"], None, mine).facts)["Wall"] == "40 mm"
        assert wishes_of(wishes_text(mine)) == mine
    finally:
        monkeypatch.undo()
        sys.modules.pop("kesh.advice.routes.cast", None)
        routes.cache_clear()
    assert "cast" not in routes()
