"""Opening what is broken, another day past midnight, another window's step, another name: said in a line, and nothing lost."""

from dataclasses import replace
from datetime import date, datetime, timedelta
from pathlib import Path

import pytest

from kesh.base import paths
from kesh.desk.bench_work import worked_minutes
from kesh.desk.deleting import without_tree
from kesh.desk.opening import state_words
from kesh.model import Collection, Event, Lineup, Order, Reservation, Work
from kesh.model.work import DoneStep
from kesh.store.collection_file import CollectionFile
from kesh.store.reading import read_collection
from kesh.ui import app
from kesh.ui.session import Session
from kesh.ui.settings import Settings
from kesh.ui.window import MainWindow
from tests.builders import planting, pot, tree
from tests.ui.conftest import Answers, Opener

DAY = date(2026, 3, 10)


def own(collection: Collection) -> Path:
    path = paths.own_collection()
    path.parent.mkdir(parents=True, exist_ok=True)
    file = CollectionFile.create(path, collection)
    file.back_up()
    file.close()
    return path


@pytest.mark.parametrize("content", [b"", b"no database" * 500, b"SQLite format 3\x00" + b"\xff" * 9000])
def test_a_broken_collection_of_ones_own_keeps_nobody_out(
    qapp: object, demo: Collection, content: bytes, qtbot, capsys: pytest.CaptureFixture[str]
) -> None:  # type: ignore[no-untyped-def]
    path = own(demo)
    path.write_bytes(content)
    file = app.open_last(Settings())
    assert file.path.name == "My bench 2.kesh"
    status, told = state_words(file)
    assert status == "watch"
    assert "My bench.kesh" in told
    assert "Take the last good copy" in told
    assert "\n" not in told
    capsys.readouterr()
    file.edit("A tree of the meantime", [("tree", "new", tree(id="new"))])
    file.close()
    # the next start goes on where this one ended, and still offers the copy
    file = app.open_last(Settings())
    assert "new" in file.collection.trees
    window = app.build(file, Settings(), at_once=True, asker=Answers())
    qtbot.addWidget(window)
    window.do("good_copy")
    assert window.session.path == path
    assert window.session.collection.trees == demo.trees
    assert [p for p in path.parent.glob("My bench, broken *.kesh") if p.read_bytes() == content]
    window.close()


def test_without_a_copy_it_starts_all_the_same_and_says_that_there_is_none(
    qapp: object, qtbot, capsys: pytest.CaptureFixture[str]
) -> None:  # type: ignore[no-untyped-def]
    path = paths.own_collection()
    path.parent.mkdir(parents=True)
    path.write_bytes(b"")
    window = app.build(app.open_last(Settings()), Settings(), at_once=True, asker=Answers())
    qtbot.addWidget(window)
    window.do("good_copy")
    assert "no good copy" in window.status.message
    assert path.read_bytes() == b""
    window.close()


def test_past_midnight_it_is_another_day_and_the_copy_of_the_day_is_made(
    qapp: object, tmp_path: Path, demo: Collection
) -> None:
    now = [date.today()]
    session = Session(CollectionFile.create(tmp_path / "s.kesh", demo), clock=lambda: now[0])
    changed: list[int] = []
    session.changed.connect(lambda: changed.append(1))
    assert session.today == date.today()
    book = session.book()
    assert not session.follow_day()
    assert not changed
    now[0] += timedelta(days=1)
    assert session.follow_day()
    assert session.today == now[0]
    assert session.book().today == now[0]
    assert session.book() is not book
    assert changed
    assert len(list((tmp_path / "backups").glob("s-*.kesh"))) == 1
    session.file.close()


def test_a_refused_undo_paints_what_the_other_window_wrote_and_takes_nothing_of_it_back(window: MainWindow) -> None:
    s = window.session
    s.change_tree("Named", name="Mine")
    other = CollectionFile.open(s.path, backup=False)
    theirs = other.collection.trees["mossback"].changed(name="Theirs")
    other.edit("Their step", [("tree", "mossback", theirs)])
    seen: list[str] = []
    s.changed.connect(lambda: seen.append(s.collection.trees["mossback"].name))
    window.do("undo")
    assert seen[-1] == "Theirs"
    assert "another window" in window.status.message
    window.do("undo")
    assert "Their step" in window.status.message
    assert read_collection(s.path).trees["mossback"].name == "Theirs"
    other.close()


def test_another_name_is_followed_said_and_opened_the_next_time(window: MainWindow) -> None:
    s = window.session
    new = s.path.with_name("renamed.kesh")
    s.path.rename(new)
    s.change_tree("Named", name="Mine")
    assert "renamed.kesh" in window.status.message
    assert window.settings.get("last_file") == str(new)
    assert read_collection(new).trees[s.tree_id].name == "Mine"


def test_back_up_and_move_is_one_file_that_was_opened(window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    answers.path = tmp_path / "stick" / "bench.kesh"
    answers.path.parent.mkdir()
    window.session.change_tree("Named", name="Mine")
    window.do("back_up")
    assert "found whole" in window.status.message
    assert [p.name for p in answers.path.parent.iterdir()] == ["bench.kesh"]
    assert read_collection(answers.path) == window.session.collection
    window.do("back_up")
    assert "exists already" in window.status.message


def test_what_is_reckoned_is_kept_for_one_collection_and_no_other(
    qapp: object, tmp_path: Path, demo: Collection
) -> None:
    session = Session(CollectionFile.create(tmp_path / "s.kesh", demo))
    case = session.case()
    assert session.case() is case
    for n in range(40):
        # a new collection may stand where an old one stood in memory
        session.file.collection = replace(demo, name=str(n))
        fresh = session.case()
        assert fresh is not case
        case = fresh
    session.file.close()


# pots, work and notes --------------------------------------------------------------------------------------------------


def test_a_night_between_two_days_at_one_tree_is_no_work() -> None:
    begun = datetime(2026, 3, 10, 16, 0)
    work = Work(id="oak", pot="tray", begun=begun, done=(
        DoneStep(step="lift", at=begun + timedelta(minutes=30)), DoneStep(step="comb", at=begun + timedelta(minutes=75)),
        DoneStep(step="set", at=begun + timedelta(hours=17)),
    ))  # fmt: skip
    assert worked_minutes(work, begun + timedelta(hours=17, minutes=20)) == pytest.approx(95)
    # a clock that was set back takes nothing off
    assert worked_minutes(work, begun) >= 75


def test_a_pot_that_two_trees_share_is_in_use_while_one_stands_in_it() -> None:
    both = Collection(
        trees={"maple": tree(), "two": tree(id="two")}, pots={"tray": pot(state="in_use")},
        plantings=(planting(), planting(id="p2", tree="two")),
    )  # fmt: skip
    changes, _ = without_tree(both, "two")
    assert not [c for c in changes if c[0] == "pot"]
    alone, _ = without_tree(replace(both, plantings=(planting(),)), "maple")
    assert [c[2].state for c in alone if c[0] == "pot"] == ["shelf"]  # type: ignore[attr-defined]


def test_a_promised_pot_ends_being_so_when_it_is_planted(open_window: Opener, demo: Collection) -> None:
    key, other = "old-ferryman", "riverstone-oval"
    kept = demo.pots[other].changed(reserved=Reservation(tree=key, season="2026"))
    order = Order(id="o", pot=other, status="promised", promised=DAY)
    lineup = (demo.lineups.get(key) or Lineup(id=key)).changed(chosen=other)
    window = open_window(
        replace(demo, pots=demo.pots | {other: kept}, orders={"o": order}, lineups=demo.lineups | {key: lineup})
    )
    window.session.choose_tree(key)
    window.go("planting")
    window.do("potted")
    c = window.session.collection
    assert window.session.pot is not None
    assert window.session.pot.id == other
    assert c.pots[other].reserved is None
    assert c.orders["o"].status == "here"
    window.do("undo")
    assert window.session.collection.orders["o"].status == "promised"


def test_a_pot_that_is_chosen_twice_says_so(window: MainWindow) -> None:
    s = window.session
    rows = [
        ("lineup", t, (s.collection.lineups.get(t) or Lineup(id=t)).changed(chosen="riverstone-oval"))
        for t in ("mossback", "honeyjar")
    ]
    s.edit("Chosen twice", rows)
    window.go("season")
    said = next(x for x in window.face("season").said if x.code == "chosen/riverstone-oval")  # type: ignore[attr-defined]
    assert said.status == "no"
    assert window.ask(said.code)


def test_a_note_of_the_same_day_does_not_move_the_filling(window: MainWindow) -> None:
    s = window.session
    for key, standing in s.book().standings.items():
        if standing.filling is None or standing.last is None:
            continue
        before = standing.filling
        note = Event(id="n", tree=key, date=standing.last, kind="note", text="It rained.")
        s.edit("Note", [("event", "n", note)])
        assert s.book().standings[key].filling == before
        s.undo()
