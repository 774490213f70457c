"""Which body stands under a collection's name. A file is known by device and inode, not by its name; what lies beside it is
applied to it only where it belongs to it: a log of another body would tear both apart.
"""

import contextlib
import os
import struct
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

# a rollback journal begins with these; one that begins with noughts is over
JOURNAL_HEAD = bytes.fromhex("d9d505f920a163d7")
# where the first page counts the changes of the file, and where it tells how changes are written (2: a log beside the file)
COUNTER_AT, LOG_AT = 24, 18
# a killed process may have written to the file this long after it last wrote to the journal
WRITING_S = 30.0


@dataclass(frozen=True)
class Body:
    """A file on the disk, whatever it is called."""

    device: int
    inode: int


def body_at(path: Path) -> Body | None:
    """The body that stands under a name now; None where there is none or it cannot be looked at."""
    try:
        found = path.stat()
    except OSError:
        return None
    return Body(found.st_dev, found.st_ino)


class Hold:
    """Keeps hold of a body, so that it is found again when it is renamed and can still be read when it is deleted.

    Letting go drops every lock this process has on the body: only after the database is closed.
    """

    def __init__(self, path: Path) -> None:
        self._number = os.open(path, os.O_RDONLY)
        found = os.fstat(self._number)
        self.body = Body(found.st_dev, found.st_ino)

    def path(self) -> Path | None:
        """Where the body stands now; None when it stands nowhere any more."""
        with contextlib.suppress(OSError):
            now = Path(os.readlink(f"/proc/self/fd/{self._number}"))
            if body_at(now) == self.body:
                return now
        return None

    def stamp(self) -> tuple[int, int]:
        """(size, time of the last writing in ns): what differs was written by somebody."""
        found = os.fstat(self._number)
        return found.st_size, found.st_mtime_ns

    def copy_to(self, target: Path) -> None:
        """What the body holds, as a new file. Raises OSError."""
        scratch = target.with_name(f".{target.name}.part")
        with scratch.open("wb") as file:
            at = 0
            while part := os.pread(self._number, 1 << 20, at):
                file.write(part)
                at += len(part)
            file.flush()
            os.fsync(file.fileno())
        scratch.rename(target)

    def let_go(self) -> None:
        """Close it."""
        with contextlib.suppress(OSError):
            os.close(self._number)


def beside(path: Path) -> tuple[Path, ...]:
    """What a database may lay beside itself."""
    return tuple(path.with_name(path.name + end) for end in ("-journal", "-wal", "-shm"))


def clear_strangers(path: Path) -> list[str]:
    """Put aside what lies beside a file and belongs to another; a sentence for each. Raises OSError where it cannot be moved."""
    told = []
    journal, log, index = beside(path)
    moved = False
    for one, belongs in ((journal, journal_belongs), (log, log_belongs)):
        if one.exists() and not belongs(path, one):
            told.append(f"{one.name} belonged to another file and was put aside as {put_aside(one).name}")
            moved = moved or one is log
    if moved:
        index.unlink(missing_ok=True)
    return told


def put_aside(path: Path) -> Path:
    """Give a file a name under which nothing reads it; the new name. Raises OSError."""
    number, target = 2, path.with_name(f"{path.name}.other")
    while target.exists():
        target, number = path.with_name(f"{path.name}.other {number}"), number + 1
    path.rename(target)
    return target


def free_name(path: Path, word: str) -> Path:
    """A name beside a file under which nothing stands: NAME, word DAY.kesh."""
    stem = f"{path.stem}, {word} {datetime.now():%Y-%m-%d %H%M%S}"
    target, number = path.with_name(f"{stem}.kesh"), 2
    while target.exists():
        target, number = path.with_name(f"{stem} {number}.kesh"), number + 1
    return target


def journal_belongs(path: Path, journal: Path) -> bool:
    """Whether a rollback journal is that of the file beside it.

    It holds the first page as it was before; the file's own counter of changes is at that number, or one further. A journal
    without that page (a change so large that it was written in parts) is judged by time: the file was not put there later.
    """
    with journal.open("rb") as file:
        head = file.read(28)
        if len(head) < 28 or head[:8] != JOURNAL_HEAD:
            # over, or never begun: the database takes no notice of it
            return True
        sector, page = struct.unpack(">II", head[20:28])
        if not 512 <= page <= 65536 or not 32 <= sector <= 65536:
            return True
        file.seek(sector)
        while len(record := file.read(page + 8)) == page + 8:
            if struct.unpack(">I", record[:4])[0] == 1:
                return _counter(path) - _counter_in(record[4:]) in (0, 1)
    return not _put_there_after(path, journal)


def log_belongs(path: Path, log: Path) -> bool:
    """Whether a write-ahead log, as older versions of Kesh kept one, is that of the file beside it.

    A log does not say whose it is: a file that says it has none, and one that was put there after the log was last written,
    have another.
    """
    if log.stat().st_size == 0:
        return True
    with path.open("rb") as file:
        head = file.read(100)
    return len(head) == 100 and head[LOG_AT] == 2 and path.stat().st_ctime <= log.stat().st_mtime


def _put_there_after(path: Path, other: Path) -> bool:
    return path.stat().st_ctime > other.stat().st_mtime + WRITING_S


def _counter(path: Path) -> int:
    with path.open("rb") as file:
        return _counter_in(file.read(100))


def _counter_in(page: bytes) -> int:
    return int(struct.unpack(">I", page[COUNTER_AT : COUNTER_AT + 4])[0]) if len(page) >= 100 else -9
