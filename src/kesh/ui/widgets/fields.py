"""Fields of panels: lengths and masses in the user's units, shares on a slider."""

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QSlider, QWidget

from kesh.base.errors import KeshError
from kesh.ui.hand.hands import step_of
from kesh.ui.session import Session
from kesh.ui.theme import fonts


class MeasureEdit(QLineEdit):
    """A length field: shows the user's unit, reads any, keeps the old value when the text is no measure."""

    entered = pyqtSignal(object)

    def __init__(self, session: Session, name: str, *, optional: bool = True, fine: bool = False) -> None:
        super().__init__()
        self._session, self._name, self._optional, self._fine = session, name, optional, fine
        self._mm: float | None = None
        self._blamed = False
        self.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.setFixedWidth(fonts.scaled(84))
        self.setAccessibleName(name)
        self.setPlaceholderText("……")
        # Enter is heard before the signal that editing ended: whoever goes on at Enter finds the value there
        self.returnPressed.connect(self._finish)
        self.editingFinished.connect(self._finish)
        self.textEdited.connect(lambda: self._fault(""))
        self._read: tuple[str, float | None] = ("", None)

    def show_mm(self, value: float | None) -> None:
        """Show a value without announcing it."""
        self._mm = value
        if not self.hasFocus() or self.text() == "":
            self.setText("" if value is None else self._written(value))
        self._fault("")

    @property
    def mm(self) -> float | None:
        """The value last shown or entered."""
        return self._mm

    def _written(self, mm: float) -> str:
        return self._session.units.fine(mm) if self._fine else self._session.units.mm(mm)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        if event is not None and event.reason() == Qt.FocusReason.MouseFocusReason:
            # the figure is written over by what is typed next, not lengthened by it
            QTimer.singleShot(0, self.selectAll)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.setText("" if self._mm is None else self._written(self._mm))
            self._fault("")
            return
        if event is not None and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self._mm is not None:
            step = step_of(event)
            self._announce(self._mm + (step if event.key() == Qt.Key.Key_Up else -step))
            self.setText(self._written(self._mm))
            return
        super().keyPressEvent(event)

    def _finish(self) -> None:
        text = self.text().strip()
        if text == ("" if self._mm is None else self._written(self._mm)) or (text, self._mm) == self._read:
            return
        if not text and self._optional:
            self._announce(None)
            return
        try:
            mm = self._session.units.parse_mm(text, self._name)
            self._read = (text, mm)
            self._announce(mm)
        except KeshError as err:
            self._fault(str(err))

    def take(self, value_mm: float, tip: str) -> None:
        """A reading of a device: written as if it had been typed, and how it came stays as the field's tip."""
        self.setText(self._written(value_mm))
        self._fault("")
        self._announce(value_mm)
        self.setToolTip(tip)

    def _announce(self, value: float | None) -> None:
        self._mm = value
        if self._blamed:
            # what was wrong before is not wrong any more
            self._blamed = False
            self._session.said.emit("fits", "")
        self.entered.emit(value)

    def _fault(self, reason: str) -> None:
        self._blamed = self._blamed or bool(reason)
        if bool(self.property("fault")) != bool(reason):
            self.setProperty("fault", bool(reason))
            style = self.style()
            if style is not None:
                style.unpolish(self)
                style.polish(self)
        self.setToolTip(reason)
        if reason:
            self._session.said.emit("no", reason)


class MassEdit(QLineEdit):
    """A mass field in the user's unit; blank is not weighed."""

    entered = pyqtSignal(object)

    def __init__(self, session: Session, name: str) -> None:
        super().__init__()
        self._session = session
        self._kg: float | None = None
        self._read: tuple[str, float | None] = ("", None)
        self.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.setFixedWidth(fonts.scaled(84))
        self.setAccessibleName(name)
        self.setPlaceholderText("……")
        self.returnPressed.connect(self._finish)
        self.editingFinished.connect(self._finish)

    def show_kg(self, value: float | None) -> None:
        """Show a mass without announcing it."""
        self._kg = value
        if not self.hasFocus() or self.text() == "":
            self.setText("" if value is None else self._session.units.kg(value))

    def take(self, value_kg: float, tip: str) -> None:
        """A reading of a scale, as if it had been typed."""
        self._kg = value_kg
        self.setText(self._session.units.kg(value_kg))
        self.setToolTip(tip)
        self.entered.emit(value_kg)

    def _finish(self) -> None:
        text = self.text().strip()
        if text == ("" if self._kg is None else self._session.units.kg(self._kg)) or (text, self._kg) == self._read:
            return
        try:
            self._kg = self._session.units.parse_kg(text, self.accessibleName().lower()) if text else None
            self._read = (text, self._kg)
        except KeshError as err:
            self._session.said.emit("no", str(err))
            return
        self.entered.emit(self._kg)


class ShareSlider(QWidget):
    """A share 0..1 as a line to slide along, its figure beside it. `tried` while it moves, `set` when let go."""

    tried = pyqtSignal(float)
    put = pyqtSignal(float)

    def __init__(self, name: str) -> None:
        super().__init__()
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(0, 100)
        self.slider.setPageStep(5)
        self.slider.setFixedWidth(fonts.scaled(110))
        self.slider.setAccessibleName(name)
        self.figure = QLabel()
        self.figure.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self.figure.setMinimumWidth(fonts.scaled(34))
        line.addWidget(self.slider)
        line.addWidget(self.figure)
        self.slider.valueChanged.connect(self._moved)
        self.slider.sliderReleased.connect(lambda: self.put.emit(self.slider.value() / 100))

    def show_share(self, share: float) -> None:
        """Show a share without announcing it; a slider in hand keeps where it is."""
        if not self.slider.isSliderDown():
            self.slider.blockSignals(True)
            self.slider.setValue(round(share * 100))
            self.slider.blockSignals(False)
        self.figure.setText(f"{self.slider.value() / 100:.2f}")

    def _moved(self, value: int) -> None:
        self.figure.setText(f"{value / 100:.2f}")
        (self.tried if self.slider.isSliderDown() else self.put).emit(value / 100)
