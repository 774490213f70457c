"""Write down: what happened, when, with its figure; and an entry put right, which keeps what it said before."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from kesh.base.errors import KeshError
from kesh.desk.log import SIGHTS, WRITTEN, put_right, read_day, read_figures, with_sight, written
from kesh.model import Event, TreePhoto
from kesh.model.events import EVENT_KINDS
from kesh.reference.starters import southern
from kesh.science.season.season import day_words
from kesh.store.collection_file import Change
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.calendar_in import CalendarIn
from kesh.ui.widgets.common import Choice, SectionHead, button, quiet, row

PHOTO_WAYS = {"": "no photograph", "file": "from a file …", "clipboard": "from the clipboard"}


class WriteBox(QWidget):
    """Fields for a new entry. `write` is the panel's main action; `photo_wanted` asks for a picture from a file or the clipboard."""

    photo_wanted = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        self.kind = Choice({key: words for key, (words, _, _) in WRITTEN.items()}, "What happened")
        self.day = QLineEdit()
        self.day.setAccessibleName("When")
        self.day.setFixedWidth(fonts.scaled(122))
        self.calendar = CalendarIn(self.day, session)
        line = QHBoxLayout()
        line.setSpacing(6)
        line.addWidget(self.kind, 1)
        line.addWidget(self.day)
        column.addLayout(line)
        self.text = QLineEdit()
        self.text.setPlaceholderText("In a sentence")
        self.text.setAccessibleName("In a sentence")
        column.addWidget(self.text)
        self.sight = Choice({str(n): words for n, (_, _, words, _) in enumerate(SIGHTS)}, "What was seen")
        self.sight_value = QLineEdit()
        self.sight_value.setFixedWidth(fonts.scaled(70))
        self.sight_value.setAccessibleName("How much of it")
        self.seen = QWidget()
        line = QHBoxLayout(self.seen)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(self.sight, 1)
        line.addWidget(self.sight_value)
        column.addWidget(self.seen)
        self.figure = QLineEdit()
        self.figure.setAccessibleName("Its figure")
        column.addWidget(self.figure)
        self.minutes, self.cost = QLineEdit(), QLineEdit()
        for field, words in ((self.minutes, "minutes"), (self.cost, "cost")):
            field.setPlaceholderText(words)
            field.setAccessibleName(words.capitalize())
        self.photo = Choice(PHOTO_WAYS, "Photograph")
        self.photo.chosen.connect(self._photo_way)
        line = QHBoxLayout()
        line.setSpacing(6)
        for widget in (self.minutes, self.cost, self.photo):
            line.addWidget(widget)
        column.addLayout(line)
        self.kind.chosen.connect(lambda _: self._follow())
        self.sight.chosen.connect(lambda _: self._follow())
        self.kind.show_key("seen")
        self.sight.show_key("0")
        self._follow()

    def refresh(self) -> None:
        """The day and the photographs of the tree in hand."""
        if not self.day.text():
            self.day.setText(self._session.today.isoformat())
        photos = self._session.collection.photos_of(self._session.tree_id)
        keys = [str(self.photo.itemData(n)) for n in range(self.photo.count())]
        if keys != [*PHOTO_WAYS, *(p.id for p in photos)]:
            now = str(self.photo.currentData() or "")
            self.photo.clear()
            for way, words in PHOTO_WAYS.items():
                self.photo.addItem(words, way)
            for n, p in enumerate(photos):
                self.photo.addItem(
                    f"photograph {n + 1}" + (f", {day_words(p.taken)} {p.taken.year}" if p.taken else ""), p.id
                )
            self.photo.show_key(now if now in {p.id for p in photos} else "")

    def _photo_way(self, key: str) -> None:
        """A photograph that is not here yet is asked for; until it is, there is none."""
        if key in ("file", "clipboard"):
            self.photo.show_key("")
            self.photo_wanted.emit(key)

    def take_photo(self, photo: TreePhoto) -> None:
        """A photograph that came in goes with the entry that is being written."""
        self.refresh()
        self.photo.show_key(photo.id)

    def _follow(self) -> None:
        key = str(self.kind.currentData() or "seen")
        self.figure.setPlaceholderText(WRITTEN[key][2])
        self.figure.setVisible(bool(WRITTEN[key][1]))
        self.seen.setVisible(key in ("seen", "round"))
        unit = SIGHTS[int(self.sight.currentData() or 0)][3]
        self.sight_value.setVisible(bool(unit))
        self.sight_value.setPlaceholderText(unit)

    def changes(self) -> tuple[str, list[Change]]:
        """(label, changes) of what stands in the fields. Raises KeshError."""
        s, key = self._session, str(self.kind.currentData() or "seen")
        day = read_day(self.day.text(), s.today, south=southern(s.collection.site))
        found = written(
            s.collection, s.tree_id, key, day, self.text.text(), figures=read_figures(key, self.figure.text()), minutes=_number(self.minutes, "minutes"),  # type: ignore[arg-type]
            cost=_number(self.cost, "cost"), photo=str(self.photo.currentData() or "") or None,
        )  # fmt: skip
        if key in ("seen", "round") and s.tree is not None:
            found += with_sight(s.tree, SIGHTS[int(self.sight.currentData() or 0)], self.sight_value.text(), day)
        return f"{WRITTEN[key][0].capitalize()}, {day_words(day)} {day.year}", found

    def clear(self) -> None:
        """Ready for the next entry."""
        for field in (self.text, self.figure, self.minutes, self.cost, self.sight_value):
            field.clear()
        self.sight.show_key("0")
        self.day.setText(self._session.today.isoformat())
        self._follow()


def _number(field: QLineEdit, name: str) -> float | None:
    from kesh.base.errors import FieldError

    text = field.text().strip().replace(",", ".")
    if not text:
        return None
    try:
        return float(text)
    except ValueError as err:
        raise FieldError(name, f"'{field.text().strip()}' is no number") from err


class EntryBox(QWidget):
    """The entry in hand: its day and words can be put right; what it said before stays."""

    deleted = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.event_: Event | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        self.head, self.told, self.before = SectionHead(session, "Entry"), quiet(""), quiet("")
        self.day, self.text, self.figure = QLineEdit(), QLineEdit(), QLineEdit()
        self.day.setFixedWidth(fonts.scaled(104))
        column.addWidget(self.head)
        column.addWidget(self.told)
        column.addWidget(row("Day", self.day))
        column.addWidget(self.text)
        column.addWidget(self.figure)
        column.addWidget(self.before)
        self.text.setAccessibleName("Words of the entry")
        self.figure.setAccessibleName("Its figure")
        line = QHBoxLayout()
        line.addWidget(button("Put it right", self._put_right))
        line.addWidget(button("Delete it", self._delete, link=True))
        line.addStretch(1)
        column.addLayout(line)
        self.show_event(None)

    def show_event(self, event: Event | None, told: str = "") -> None:
        """Show an entry; none hides the box."""
        self.event_ = event
        self.setVisible(event is not None)
        if event is None:
            return
        self.head.set_note(event.kind.replace("_", " ") if event.kind in EVENT_KINDS else "")
        self.told.setText(told)
        self.told.setVisible(bool(told))
        self.day.setText(event.date.isoformat())
        self.text.setText(event.text)
        name = WRITTEN.get(event.kind, ("", "", ""))[1]
        value = dict(event.figures).get(name)
        self.figure.setVisible(name in ("foliage_share", "removed_feeder_share"))
        self.figure.setPlaceholderText(WRITTEN.get(event.kind, ("", "", ""))[2])
        self.figure.setText("" if value is None else f"{100 * value:.0f} %")
        self.before.setText(
            "\n".join(f"{day_words(x.on)} {x.on.year}: {x.field} was {x.was}" for x in event.corrections)
        )
        self.before.setVisible(bool(event.corrections))

    def _delete(self) -> None:
        if self.event_ is not None:
            self.deleted.emit(self.event_.id)

    def _put_right(self) -> None:
        event, s = self.event_, self._session
        if event is None:
            return
        try:
            fields: dict[str, object] = {
                "date": read_day(self.day.text(), s.today, south=southern(s.collection.site)),
                "text": self.text.text().strip(),
            }
            name = WRITTEN.get(event.kind, ("", "", ""))[1]
            if name in ("foliage_share", "removed_feeder_share"):
                others = tuple((k, v) for k, v in event.figures if k != name)
                fields["figures"] = (*others, *read_figures(event.kind, self.figure.text()))
                if set(fields["figures"]) == set(event.figures):  # type: ignore[call-overload]
                    del fields["figures"]
            after = put_right(event, s.today, **fields)
        except KeshError as err:
            s.said.emit("no", str(err))
            return
        if after is not event:
            s.edit("Entry put right", [("event", event.id, after)])
