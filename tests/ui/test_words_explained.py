"""Words of the trade explained where they stand: on hover, and by F1 on the row in hand; and searched for in every room by keys alone."""

import pytest
from PyQt6.QtCore import QEvent, QPoint, Qt
from PyQt6.QtGui import QHelpEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLabel, QToolTip

from kesh.reference.explaining import meanings, words_in
from kesh.reference.rows import raw_table
from kesh.ui.rooms import ROOMS
from kesh.ui.widgets.common import SectionHead
from kesh.ui.widgets.palette import CommandBox, KeyCard
from kesh.ui.window import MainWindow

# what growers type who look for a room, ten for each, none of them its name on the rail
SEARCHES = {
    "tree": "add tree|measure the tree|height|trunk thickness|photograph of my tree|new tree|nebari|canopy|tape measure|species",
    "brief": "school|purpose|who judges|wishes|mix for this tree|refine|horizon|character|masculine feminine|limits",
    "line-up": "which pot|compare pots|choose a pot|best pot|rank|pots side by side|lay over|overlay|another pot|try pots",
    "group": "forest|grove|clump|twin trunk|yose-ue|wald|forêt|trunks of the group|layout|several trees",
    "roots": "root plan|cut roots|taproot|root pruning|wurzeln|comb the roots|feeder roots|root map|saw|circling roots",
    "water": "watering|stays too wet|dries too fast|giessen|air in the soil|drainage|holiday|frost|away|summer",
    "planting": "repotting|umtopfen|tie in|wires|screens|soil needed|cut list|how much soil|bench work|mound",
    "log": "diary|what was done|history|tagebuch|aftercare|write down|notes|then and now|years ahead|life of the tree",
    "shelf": "my pots|new pot|pottery|containers|holes|glaze|schalen|all pots|pot sizes|volume of a pot",
    "workshop": "design a pot|make a pot|potter|3d print|töpfer|wooden box|build a pot|drill holes|template|clay",
    "season": "when to repot|calendar|this week|kalender|tasks|due|spring|weekend|order soil|reminders",
    "reference": "species table|climate|substrates|akadama|glossary|cautions|frost dates|materials|disagreements|mixes",
}


def boxed(window: MainWindow, words: str) -> CommandBox:
    window.do("commands")
    box = window.findChildren(CommandBox)[-1]
    if words.isascii():
        QTest.keyClicks(box.line, words)
    else:
        # a test's keyboard has no accents
        box.line.setText(words)
    return box


@pytest.mark.parametrize("room", [room.key for room in ROOMS])
def test_a_room_is_found_by_the_words_of_growers_and_the_keyboard_alone(window: MainWindow, room: str) -> None:
    missed = []
    for words in SEARCHES[room].split("|"):
        window.go("tree" if room != "tree" else "log")
        if room == "group":
            window.session.choose_tree("seven-neighbours")
        box = boxed(window, words)
        offered = [str(r.data(0, Qt.ItemDataRole.UserRole)) for r in box.rows]
        if not any(
            key == room
            or key == f"step_{room.replace('-', '')}"
            or key in {c.key for r in ROOMS if r.key == room for c in r.commands}
            for key in offered[:8]
        ):
            missed.append(words)
        box.close()
    assert not missed, (room, missed)


def test_enter_goes_to_what_was_found(window: MainWindow) -> None:
    box = boxed(window, "umtopfen")
    QTest.keyClick(box.line, Qt.Key.Key_Return)
    assert window.room == "planting"


def test_every_word_of_the_list_is_known_again_in_a_sentence() -> None:
    for row in raw_table("glossary"):
        if len(row["word"]) >= 4:
            found = dict(words_in(f"It has {row['word']}, they say."))
            assert found or row["word"].lower() in ("root", "soil", "tree", "feet", "foot", "tray"), row["word"]


def test_rows_and_findings_explain_their_words(window: MainWindow) -> None:
    window.session.choose_tree("old-ferryman")
    window.go("planting")
    labels = {x.text(): x.toolTip() for x in window.face("planting").panel.findChildren(QLabel)}
    assert meanings("Headspace") in labels["Headspace"]
    window.go("tree")
    heads = window.face("tree").panel.findChildren(SectionHead)
    assert any(h.toolTip() for h in heads if h.accessibleName() == "Root mass")
    rows = window.face("tree").findings.rows  # type: ignore[union-attr]
    row = next(r for r in rows if meanings(f"{r.finding.text} {r.finding.remedy}"))
    QApplication.sendEvent(row, QHelpEvent(QEvent.Type.ToolTip, QPoint(4, 4), row.mapToGlobal(QPoint(4, 4))))
    assert meanings(f"{row.finding.text} {row.finding.remedy}") in row.toolTip()


def test_f1_explains_the_row_in_hand_and_then_shows_the_keys(window: MainWindow) -> None:
    window.session.choose_tree("old-ferryman")
    window.go("planting")
    field = window.face("planting").beside.fields["headspace_mm"]  # type: ignore[attr-defined]
    window.activateWindow()
    field.setFocus()
    assert QApplication.focusWidget() is field
    window.do("keys")
    assert "Headspace:" in window.status.message
    assert not window.findChildren(KeyCard)
    QToolTip.hideText()
    window.findChildren(CommandBox)
    window.setFocus()
    window.do("keys")
    assert window.findChildren(KeyCard)
