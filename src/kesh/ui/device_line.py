"""A device on the window: what it sends lands in the field in focus, faults are said, nothing typed is lost."""

from datetime import datetime
from pathlib import Path

from PyQt6.QtCore import QObject, QSocketNotifier, pyqtSignal
from PyQt6.QtWidgets import QApplication

from kesh.devices.port import UNPLUGGED, Port
from kesh.devices.protocol import DeviceError, Taken, read_line
from kesh.model.site import Day
from kesh.ui.session import Session
from kesh.ui.widgets.fields import MassEdit, MeasureEdit


class DeviceLine(QObject):
    """One connected device, or none."""

    taken = pyqtSignal(object)
    # a probe in some soil, and a day of weather; rooms that can use them listen
    moist = pyqtSignal(object)
    day = pyqtSignal(object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._port: Port | None = None
        self._watch: QSocketNotifier | None = None

    @property
    def connected(self) -> bool:
        """Whether a device is on the line."""
        return self._port is not None

    def connect_to(self, path: Path) -> None:
        """Take a device into service; one before is let go. Raises DeviceError."""
        port = Port(path)
        self.let_go()
        self._port = port
        self._watch = QSocketNotifier(port.fd, QSocketNotifier.Type.Read)  # type: ignore[call-overload]
        self._watch.activated.connect(self._arrived)

    def let_go(self) -> None:
        """Disconnect."""
        if self._watch is not None:
            self._watch.setEnabled(False)
            self._watch = None
        if self._port is not None:
            self._port.close()
            self._port = None

    def _arrived(self) -> None:
        if self._port is None:
            return
        try:
            lines = self._port.lines()
        except DeviceError as err:
            if str(err) == UNPLUGGED:
                self.let_go()
            self._session.said.emit("no", str(err))
            return
        for line in lines:
            try:
                found = read_line(line, datetime.now())
                if isinstance(found, Day):
                    self._day(found)
                elif found.kind == "moisture":
                    self._moist(found)
                else:
                    self._land(found)
            except DeviceError as err:
                self._session.said.emit("no", str(err))

    def _day(self, day: Day) -> None:
        """A day of weather goes to the place, where somebody has it open."""
        if self.receivers(self.day):
            self.day.emit(day)
        else:
            self._session.said.emit(
                "watch", "A day came from the weather station; open the Reference, Climate, and send it again"
            )

    def _moist(self, taken: Taken) -> None:
        """A probe's figure goes to step Water, where somebody has it open."""
        if self.receivers(self.moist):
            self.moist.emit(taken)
        else:
            self._session.said.emit(
                "watch", f"{taken.value:.0%} water by probe; open step Water, The year, and press again"
            )

    def _land(self, reading: Taken) -> None:
        u = self._session.units
        shown = u.mm(reading.value) if reading.kind == "length" else u.kg(reading.value)
        spread = f"± {reading.tolerance:g} {'mm' if reading.kind == 'length' else 'kg'}, {reading.at:%H:%M:%S}"
        field = QApplication.focusWidget()
        wanted = MeasureEdit if reading.kind == "length" else MassEdit
        if isinstance(field, wanted):
            field.take(reading.value, f"by {reading.device} {spread}")
            self._session.said.emit("fits", f"{field.accessibleName()} {shown} by {reading.device}, {spread}")
        elif isinstance(field, MeasureEdit | MassEdit):
            self._session.said.emit(
                "watch", f"{shown} is a {reading.kind}; {field.accessibleName()} wants another. Nothing was changed"
            )
        else:
            kind = "length" if reading.kind == "length" else "mass"
            self._session.said.emit(
                "watch", f"{shown} by {reading.device}; put the cursor into a field for a {kind} first"
            )
        self.taken.emit(reading)
