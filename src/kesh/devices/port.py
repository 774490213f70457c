"""A serial line that is read without waiting."""

import errno
import os
import stat
import termios
from pathlib import Path

from kesh.devices.protocol import DeviceError

MOST_BUFFER = 4096
UNPLUGGED = "the device was unplugged; what you typed is kept. Connect it again"


class Port:
    """An open line. `fd` can be watched for something to read."""

    def __init__(self, path: Path) -> None:
        """Open a device. Raises DeviceError when there is none, or when it may not be read."""
        self.path = path
        try:
            if not stat.S_ISCHR(path.stat().st_mode):
                raise DeviceError(f"{path.name} is no device; choose the line the calliper is plugged into")
            self.fd = os.open(path, os.O_RDONLY | os.O_NOCTTY | os.O_NONBLOCK)
        except FileNotFoundError as err:
            raise DeviceError(f"{path} is not there; plug the device in and connect again") from err
        except OSError as err:
            raise DeviceError(
                f"{path} cannot be opened: {err.strerror}; ask for the right to use serial lines"
            ) from err
        self._rest = b""
        try:
            self._plain()
        except termios.error as err:
            os.close(self.fd)
            raise DeviceError(f"{path.name} is no serial line") from err

    def _plain(self) -> None:
        """9600 baud, eight bits, nothing edited or echoed on the way."""
        mode = termios.tcgetattr(self.fd)
        mode[0] = mode[1] = mode[3] = 0
        mode[2] = termios.CS8 | termios.CREAD | termios.CLOCAL
        mode[6][termios.VMIN], mode[6][termios.VTIME] = 1, 0
        mode[4] = mode[5] = termios.B9600
        termios.tcsetattr(self.fd, termios.TCSANOW, mode)

    def lines(self) -> list[str]:
        """Whole lines that have arrived; a part of a line waits for its rest. Raises DeviceError when the line is lost."""
        while True:
            try:
                part = os.read(self.fd, 1024)
            except BlockingIOError:
                break
            except OSError as err:
                if err.errno == errno.EINTR:
                    continue
                raise DeviceError(UNPLUGGED) from err
            if not part:
                # nothing to read would have been told as blocking: this is the far end hanging up
                raise DeviceError(UNPLUGGED)
            self._rest += part
            if len(self._rest) > MOST_BUFFER:
                self._rest = b""
                raise DeviceError("the device sends without an end; its line was cleared")
        *whole, self._rest = self._rest.split(b"\n")
        return [line.decode("ascii", "replace") for line in whole if line.strip()]

    def close(self) -> None:
        """Let go of the line."""
        os.close(self.fd)
