"""The windows of the year as a table of one's own: between which warmth sums or means of the day each lies."""

from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLineEdit

from kesh.base.errors import KeshError
from kesh.model import OwnWindow, Site
from kesh.reference.windows import window_spans
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import quiet, row
from kesh.ui.widgets.folded import Folded


class WindowsBox(Folded):
    """Blank takes the shipped figure back. Every edit is written at once."""

    def __init__(self, session: Session) -> None:
        super().__init__(
            "When windows open: warmth sums of your own", "Starting points; a few springs of your own signs beat them"
        )
        self._session = session
        self.fields: dict[tuple[str, str], QLineEdit] = {}
        for key, span in window_spans().items():
            made = []
            for part in ("low", "high"):
                field = self.fields[key, part] = QLineEdit()
                field.setFixedWidth(fonts.scaled(52))
                field.setAlignment(Qt.AlignmentFlag.AlignRight)
                field.setAccessibleName(f"{key.replace('_', ' ')}, {part}")
                field.setPlaceholderText(f"{getattr(span, part):g}")
                field.editingFinished.connect(partial(self._write, key))
                made.append(field)
            self.add(row(f"{key.replace('_', ' ').capitalize()}, {span.unit}", *made, tip=span.words))
        self.add(quiet("Judgement; blank takes the shipped one back."))
        self.show_needed(False)

    def show_site(self, site: Site | None) -> None:
        """Show own figures; the shipped ones stand behind them."""
        own = {w.key: w for w in site.windows} if site is not None else {}
        for (key, part), field in self.fields.items():
            if not field.hasFocus():
                shipped = getattr(window_spans()[key], part)
                value = getattr(own[key], part) if key in own else shipped
                field.setText("" if value == shipped else f"{value:g}")
        self.setEnabled(site is not None)
        self.show_needed(bool(own))

    def _write(self, key: str) -> None:
        s, site, shipped = self._session, self._session.collection.site, window_spans()[key]
        if site is None:
            return
        try:
            low, high = (
                float(text.replace(",", ".")) if (text := self.fields[key, part].text().strip()) else getattr(shipped, part) for part in ("low", "high")
            )  # fmt: skip
            rest = tuple(w for w in site.windows if w.key != key)
            own = () if (low, high) == (shipped.low, shipped.high) else (OwnWindow.made(key=key, low=low, high=high),)
            after = site.changed(windows=(*rest, *own))
        except ValueError:
            s.said.emit("no", "That is no number; the window is kept as it was")
        except KeshError as err:
            s.said.emit("no", str(err))
        else:
            if after.windows != site.windows:
                s.edit("When windows open", [("site", site.id, after)])
            return
        self.show_site(site)
