"""The settings on one page: each is in force at once, and kept."""

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QGridLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from kesh.store.backups import KEEP_BACKUPS
from kesh.ui.rooms.room import Context
from kesh.ui.settings import SETTINGS, Setting
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice, SectionHead, button, quiet, title
from kesh.ui.widgets.palette import Over

TEXT_SIZES = tuple(range(80, 201, 10))
Put = Callable[[Context, str, object], None]


class SettingsSheet(Over):
    """A row for each setting that has a group, under the heads of the groups."""

    def __init__(self, parent: QWidget, context: Context, put: Put) -> None:
        super().__init__(parent, context.session.theme)
        self._context, self._put = context, put
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(22, 16, 22, 18)
        column.setSpacing(6)
        column.addWidget(title("Settings"))
        column.addWidget(
            quiet("In force at once, kept for the next start. Figures in files and bundles stay as they are.")
        )
        self.choices: dict[str, Choice] = {}
        for group in dict.fromkeys(row.group for row in SETTINGS.values() if row.group):
            column.addWidget(SectionHead(context.session, group))
            grid = QGridLayout()
            grid.setHorizontalSpacing(18)
            grid.setVerticalSpacing(4)
            for n, row in enumerate(r for r in SETTINGS.values() if r.group == group):
                grid.addWidget(QLabel(row.label), n, 0)
                grid.addWidget(self._hand(row), n, 1)
                grid.setRowMinimumHeight(n, fonts.scaled(31))
            grid.setColumnStretch(0, 1)
            column.addLayout(grid)
        path = context.session.path
        self.kept = quiet(
            f"This collection: {path.name}. A copy a day is kept in {path.parent / 'backups'}, the last {KEEP_BACKUPS} of them. "
            "Back up and move writes everything into one file."
        )
        self.kept.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        column.addWidget(self.kept)
        column.addWidget(
            button("Back up and move", self._back_up, link=True, tip="Everything in one file, opened and counted")
        )
        page.setFixedWidth(min(fonts.scaled(560), parent.width() - 60))
        around = QVBoxLayout(self)
        around.setContentsMargins(1, 1, 1, 1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QFrame.Shape.NoFrame)
        scroll.setWidget(page)
        # with large letters it is longer than the window: it scrolls
        scroll.setFixedSize(page.width() + 16, min(page.sizeHint().height() + 8, parent.height() - 110))
        around.addWidget(scroll)

    def _hand(self, row: Setting) -> QWidget:
        """What a setting is changed with."""
        if row.key == "folder":
            made = button(self._folder_words(), self._choose_folder, tip="Where Kesh offers to write and to read first")
            made.setAccessibleName(row.label)
            self.folder = made
            return made
        words = dict(zip(row.options, row.words or row.options, strict=True))
        if row.key == "text_percent":
            words = {str(size): f"{size} %" for size in TEXT_SIZES}
        choice = self.choices[row.key] = Choice(words, row.label)
        choice.show_key(str(self._context.settings.get(row.key)))
        choice.setMinimumWidth(fonts.scaled(250))
        choice.chosen.connect(lambda value, key=row.key: self._choose(key, value))
        return choice

    def _choose(self, key: str, value: str) -> None:
        self._put(self._context, key, int(value) if key == "text_percent" else value)
        if key in ("theme", "text_percent"):
            # drawn in the look of before: it is opened anew in the new one
            self.close()
            self._context.do("settings")

    def _folder_words(self) -> str:
        chosen = str(self._context.settings.get("folder"))
        return fonts.elided(self.font(), chosen, fonts.scaled(230)) if chosen else "beside the collection"

    def _choose_folder(self) -> None:
        context = self._context
        self.hide()
        found = context.asker.folder(context.desk.parent_widget(), "Files go to", context.folder)
        if found is not None:
            self._put(context, "folder", str(found))
            context.say("fits", f"Files are offered in {found.name} from now on")
        self.close()
        context.do("settings")

    def _back_up(self) -> None:
        self.close()
        self._context.do("back_up")
