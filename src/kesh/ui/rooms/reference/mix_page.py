"""Mixes as a page: recipes at the left, the one in hand drawn as its grains with its parts to change."""

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from kesh.base.errors import FieldError, KeshError
from kesh.desk.ids import fresh_id
from kesh.model import Mix, Part
from kesh.ui.paint.grains import draw_grains
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice, button, quiet, row, title

KEY = Qt.ItemDataRole.UserRole
MOST_PARTS = 6


class MixPicture(QWidget):
    """The mix in hand as its grains."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.mix: Mix | None = None
        self.setFixedHeight(fonts.scaled(150))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, t = QPainter(self), self._session.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(1, 1, min(self.width() - 2, 420), self.height() - 2)
        painter.fillRect(box, t.color("soil", 0.35))
        if self.mix is not None:
            painter.save()
            painter.setClipRect(box)
            draw_grains(painter, self.mix, box, 8.0)
            painter.restore()
        painter.setPen(QPen(t.color("edge"), 1))
        painter.drawRect(box)


class MixPage(QWidget):
    """Every edit is written at once; a mix in use cannot be deleted by mistake: undo brings it back."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.key = ""
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 8, 8)
        line.setSpacing(20)
        left = QVBoxLayout()
        self.list = QListWidget()
        self.list.setAccessibleName("Mixes")
        self.list.setFixedWidth(fonts.scaled(220))
        self.list.currentItemChanged.connect(lambda now, _: self._choose(now))
        left.addWidget(self.list, 1)
        left.addWidget(button("Add a mix", self.add, link=True))
        line.addLayout(left)
        right = QVBoxLayout()
        self.head, self.told = title("", 18), quiet("")
        self.picture = MixPicture(session)
        right.addWidget(self.head)
        right.addWidget(self.picture)
        right.addWidget(self.told)
        self.name = QLineEdit()
        self.name.setFixedWidth(fonts.scaled(220))
        self.name.setAccessibleName("Name of the mix")
        self.name.editingFinished.connect(self._rename)
        right.addWidget(row("Name", self.name))
        options = {"": "nothing"} | {
            k: f"{r.name}, {r.size_low_mm:g}–{r.size_high_mm:g} mm" for k, r in session.tables.substrates.items()
        }
        self.parts: list[tuple[Choice, QLineEdit]] = []
        for n in range(MOST_PARTS):
            substrate, share = Choice(options, f"Component {n + 1}"), QLineEdit()
            substrate.setFixedWidth(fonts.scaled(300))
            share.setFixedWidth(fonts.scaled(60))
            share.setAccessibleName(f"Parts of component {n + 1}")
            share.setAlignment(Qt.AlignmentFlag.AlignRight)
            substrate.chosen.connect(lambda _: self._write())
            share.editingFinished.connect(self._write)
            self.parts.append((substrate, share))
            right.addWidget(row(f"{n + 1}", substrate, share))
        self.drop = button("Delete this mix", self.delete, link=True)
        right.addWidget(self.drop)
        right.addStretch(1)
        line.addLayout(right, 1)

    @property
    def mix(self) -> Mix | None:
        """The mix in hand."""
        return self._session.collection.mixes.get(self.key)

    def refresh(self) -> None:
        """Show the mixes."""
        mixes = self._session.collection.mixes
        if self.key not in mixes:
            self.key = next(iter(mixes), "")
        self.list.blockSignals(True)
        self.list.clear()
        for key, each in mixes.items():
            item = QListWidgetItem(each.name)
            item.setData(KEY, key)
            self.list.addItem(item)
            if key == self.key:
                self.list.setCurrentItem(item)
        self.list.blockSignals(False)
        mix = self.mix
        self.picture.mix = mix
        self.picture.update()
        self.head.setText(mix.name if mix else "No mix yet")
        self.told.setText(mix.notes if mix else "A mix lets Kesh reckon water, air and weight.")
        if not self.name.hasFocus():
            self.name.setText(mix.name if mix else "")
        for n, (substrate, share) in enumerate(self.parts):
            part = mix.parts[n] if mix and n < len(mix.parts) else None
            substrate.show_key(part.substrate if part else "")
            if not share.hasFocus():
                share.setText(("?" if part.parts is None else f"{part.parts:g}") if part else "")
        for widget in (self.name, self.drop, *(w for pair in self.parts for w in pair)):
            widget.setEnabled(mix is not None)

    def _choose(self, item: QListWidgetItem | None) -> None:
        if item is not None:
            self.key = str(item.data(KEY))
            self.refresh()

    def add(self) -> None:
        """A new recipe, with the parts of the one in hand to begin with."""
        mixes = self._session.collection.mixes
        key = fresh_id(mixes, "mix")
        base = self.mix
        mix = Mix(
            id=key,
            name=f"Mix {len(mixes) + 1}",
            parts=base.parts if base else (Part(substrate="akadama_hard_3_6", parts=1),),
        )
        if self._session.edit("Mix added", [("mix", key, mix)]):
            self.key = key
            self.refresh()

    def delete(self) -> None:
        """Take the mix in hand away."""
        mix = self.mix
        if mix is not None and self._session.edit(f"Mix {mix.name} deleted", [("mix", mix.id, None)]):
            self._session.said.emit("fits", f"Mix {mix.name} deleted; Ctrl+Z brings it back")

    def _rename(self) -> None:
        mix, name = self.mix, self.name.text().strip()
        if mix is not None and name and name != mix.name:
            self._session.edit(f"Named {name}", [("mix", mix.id, mix.changed(name=name))])

    def _write(self) -> None:
        mix = self.mix
        if mix is None:
            return
        try:
            parts = []
            for substrate, share in self.parts:
                key, text = str(substrate.currentData() or ""), share.text().strip().replace(",", ".")
                if key:
                    parts.append(Part(substrate=key, parts=self._parts(text)))
            changed = mix.changed(parts=tuple(parts))
        except (KeshError, ValueError) as err:
            self._session.said.emit(
                "no", str(err) if isinstance(err, KeshError) else "parts are figures from 0 to 1000, such as 2"
            )
            self.refresh()
            return
        if changed != mix:
            self._session.edit(f"{mix.name}: parts changed", [("mix", mix.id, changed)])

    def _parts(self, text: str) -> float | None:
        if not text:
            return 1.0
        if text == "?":
            return None
        try:
            return float(text)
        except ValueError as err:
            raise FieldError("parts", f"'{text}' is no figure; write one, such as 2") from err
