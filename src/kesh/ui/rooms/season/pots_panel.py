"""Beside the plan of pots: what it gains, the move in hand, what was struck out, and who waits for a made one."""

from functools import partial

from PyQt6.QtCore import QLineF, QRectF, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from kesh.advice.season.book import Book
from kesh.advice.season.pot_round import Move, Plan, spring_plan
from kesh.base.errors import KeshError
from kesh.base.progress import Progress
from kesh.desk.pot_round import accept, accepted, rows_of, title_of
from kesh.model import Rejection
from kesh.ui.paint.marks import words
from kesh.ui.rooms.room import Context
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Panel, SectionHead, button, quiet, title


class Sums(QWidget):
    """Points of all trees of the plan before and after, one piece a tree."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.plan: Plan | None = None
        self.setFixedHeight(fonts.scaled(66))
        self.setAccessibleName("Points before and after")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self.plan is None or not self.plan.trees:
            return
        p, t = QPainter(self), self._session.theme
        moved = {m.tree: m for m in self.plan.moves}
        held = {s.tree: s.score or 0.0 for s in self.plan.stay}
        most = 100.0 * len(self.plan.trees)
        for n, (name, after) in enumerate((("before", False), ("after", True))):
            y, x, total = fonts.scaled(4 + n * 30), 0.0, 0.0
            for tree in self.plan.trees:
                m = moved.get(tree)
                value = held.get(tree, 0.0) if m is None else m.score_after if after else m.score_before or 0.0
                high = (self.width() - 76) * value / most
                p.setPen(QPen(t.color("moss" if m is not None else "edge"), 1))
                p.setBrush(t.color(("moss_fill" if after else "moss_tint") if m is not None else "panel"))
                p.drawRect(QRectF(x, y + fonts.scaled(12), high, 10))
                x, total = x + high, total + value
            words(p, t, name, 0, y + fonts.scaled(9), "quiet", font=fonts.text(12))
            words(
                p,
                t,
                f"{total:.0f}",
                self.width() - 2,
                y + fonts.scaled(21),
                "moss" if after else "ink",
                font=fonts.text(14, bold=True),
                align="right",
            )
        x = (self.width() - 76) * 0.6
        p.setPen(QPen(t.color("ink"), 1))
        p.drawLine(QLineF(x, 8, x, self.height() - 4))


class PotsPanel(Panel):
    """Works the plan out, in the background; `changed` hands it to the sheet, `picked` a tree."""

    changed = pyqtSignal(object, object, str)
    picked = pyqtSignal(str)

    def __init__(self, context: Context) -> None:
        super().__init__(context.session)
        self.context = context
        self.plan: Plan | None = None
        self.book: Book | None = None
        self.tree = ""
        self.refused: list[tuple[str, str]] = []
        s = context.session
        self.head, self.note = title(""), quiet("")
        self.sums = Sums(s)
        self.hand_head, self.told = SectionHead(s, "This move"), quiet("")
        self.take, self.strike = (
            button("Take this move on", self._take),
            button("Strike it out", lambda: self.refuse(self.tree), tip="Del"),
        )
        self.row = QWidget()
        line = QHBoxLayout(self.row)
        line.setContentsMargins(0, 2, 0, 2)
        line.addWidget(self.take)
        line.addWidget(self.strike)
        self.out_head, self.out = SectionHead(s, "Struck out"), QWidget()
        self.wait_head, self.wait = SectionHead(s, "Nobody can serve"), QWidget()
        for holder in (self.out, self.wait):
            box = QVBoxLayout(holder)
            box.setContentsMargins(0, 0, 0, 0)
            box.setSpacing(2)
        for made in (
            self.head,
            self.note,
            self.sums,
            self.hand_head,
            self.told,
            self.row,
            self.out_head,
            self.out,
            self.wait_head,
            self.wait,
        ):
            self.column.addWidget(made)
        self.column.addWidget(
            quiet(
                "Points are those of the line-up. A pot that a tree leaves is only used by one that can wait for it; pots kept for a tree stay with it; a pot refused under a tree stays refused."
            )
        )
        self.all = button("Take all moves on", self._take_all, main=True)
        self.foot.addWidget(self.all)

    def forget(self) -> None:
        """The next look works it out anew."""
        self.plan, self.book = None, None

    def follow(self, book: Book) -> None:
        """Work out what is not known yet."""
        if self.plan is not None and self.book is book:
            self._show()
            return
        self.book = book
        self.changed.emit(book, None, "Judging every tree in every pot …")
        refused = tuple(self.refused)

        def work(progress: Progress) -> Plan:
            return spring_plan(book, refused=refused, tick=progress.at)

        def arrived(plan: Plan) -> None:
            if book is self.book:
                self.plan = plan
                self._show()

        self.context.runner.start_long("season/pots", "Who gets which pot", work, arrived)

    def title(self) -> str:
        """What comes of it."""
        return "Who gets which pot" if self.plan is None else title_of(self.plan)

    def under(self) -> str:
        """What it rests on."""
        if self.plan is None or self.book is None:
            return ""
        return f"{len(self.plan.trees)} trees due or badly potted, {len(self.plan.pots)} pots free or freed; all drawn to one scale"

    def _show(self) -> None:
        plan, book = self.plan, self.book
        assert plan is not None
        assert book is not None
        self.head.setText(f"The plan gains {plan.gain:.0f} points" if plan.moves else "Nothing is gained by moving")
        self.note.setText(
            "Each move is taken on by itself. Taking one on chooses the pot, keeps it for the tree and lays the repotting."
        )
        self.sums.plan = plan
        self.sums.update()
        self.all.setEnabled(any(not accepted(book.c, m) for m in plan.moves))
        self.changed.emit(book, plan, "")
        self.show_tree(
            self.tree if any(m.tree == self.tree for m in plan.moves) else plan.moves[0].tree if plan.moves else ""
        )
        self._list_out(book)
        self._list_waiting(book, plan)

    def _move(self) -> Move | None:
        return next((m for m in self.plan.moves if m.tree == self.tree), None) if self.plan is not None else None

    def show_tree(self, tree: str) -> None:
        """The move of a tree in hand."""
        self.tree = tree
        m, book, plan = self._move(), self.book, self.plan
        for part in (self.hand_head, self.told, self.row):
            part.setVisible(m is not None)
        if m is None or book is None or plan is None:
            return
        row = next(r for r in rows_of(book, plan) if r.move == m)
        chain = plan.chain_of(tree)
        before = f"\nFirst: {', then '.join(book.c.trees[x.tree].name for x in chain[:-1])}." if len(chain) > 1 else ""
        ends = f"\n{row.ends_words}." if row.ends_words else ""
        self.hand_head.set_note(f"{m.gain:+.0f} points".replace("-", "−"))
        self.told.setText(
            f"{row.tree} from {row.from_name} to {row.to_name}. {row.free_words[0].upper()}{row.free_words[1:]}.{before}{ends}"
        )
        self.take.setEnabled(not row.accepted)
        self.picked.emit(tree)

    def _take(self) -> None:
        m = self._move()
        if m is not None and self.plan is not None:
            # what must be out before is taken on with it
            self._accept([x for x in self.plan.chain_of(m.tree)])

    def _take_all(self) -> None:
        if self.plan is not None:
            self._accept([m for m in self.plan.moves if self.book is not None and not accepted(self.book.c, m)])

    def _accept(self, moves: list[Move]) -> None:
        if self.book is None or not moves:
            return
        try:
            changes = accept(self.book, moves)
        except KeshError as err:
            self.context.say("no", str(err))
            return
        kept = self.plan
        if self.context.session.edit(f"{len(moves)} pots chosen" if len(moves) > 1 else "Pot chosen", changes):
            # the plan stands as it was agreed on; it is worked out anew when somebody asks for it
            self.book, self.plan = self.context.session.book(), kept
            self._show()
            self.context.say("fits", "Taken on: chosen, kept for the tree, and in the season; Ctrl+Z takes it back")

    def refuse(self, tree: str) -> None:
        """Strike a move out; the plan is made anew without it, and the pot counts as refused under the tree."""
        m = next((x for x in self.plan.moves if x.tree == tree), None) if self.plan is not None else None
        if m is None:
            return
        row = Rejection(
            id=f"{tree}/{m.to_pot}", tree=tree, pot=m.to_pot, reason="Struck out of the plan.", date=self.session.today
        )
        self.plan = None
        if self.context.session.edit("Move struck out", [("rejection", row.id, row)]):
            self.follow(self.context.session.book())

    def _list_out(self, book: Book) -> None:
        rows = [r for r in book.c.rejections if r.tree in book.c.trees and r.pot in book.c.pots]
        _clear(self.out)
        self.out_head.set_note(str(len(rows)) if rows else "nothing")
        for r in rows[:6]:
            made = quiet(f"{book.c.trees[r.tree].name}, {book.c.pots[r.pot].name}: “{r.reason}”")
            again = button("Allow it again", partial(self._allow, r), link=True)
            layout = self.out.layout()
            assert layout is not None
            layout.addWidget(made)
            layout.addWidget(again)

    def _allow(self, row: Rejection) -> None:
        self.plan = None
        if self.context.session.edit("Allowed again", [("rejection", row.id, None)]):
            self.follow(self.context.session.book())

    def _list_waiting(self, book: Book, plan: Plan) -> None:
        _clear(self.wait)
        self.wait_head.setVisible(bool(plan.unserved))
        for s in plan.unserved:
            layout = self.wait.layout()
            assert layout is not None
            layout.addWidget(quiet(f"{book.c.trees[s.tree].name}: {s.why}."))
            layout.addWidget(button("Design one in the Workshop", partial(self._to_workshop, s.tree), link=True))

    def _to_workshop(self, tree: str) -> None:
        self.context.session.choose_tree(tree)
        self.context.go("workshop")
        self.context.do("solve")


def _clear(holder: QWidget) -> None:
    layout = holder.layout()
    while layout is not None and layout.count():
        item = layout.takeAt(0)
        widget = item.widget() if item is not None else None
        if widget is not None:
            widget.hide()
            widget.deleteLater()
