"""The one way Kesh writes a file: beside, to the disk, then swapped. On the disk stands the old file or the new one, never half of each."""

import contextlib
import os
import tempfile
from collections.abc import Mapping
from errno import EISDIR
from pathlib import Path

from kesh.base.errors import KeshError


class WritingError(KeshError):
    """A file cannot be written; what stood there before still does."""


def write_text(path: Path, text: str) -> None:
    """Write text as UTF-8. Raises WritingError when the place cannot be written."""
    write_bytes(path, text.encode("utf-8", errors="replace"))


def write_bytes(path: Path, body: bytes) -> None:
    """Write one file. Raises WritingError when the place cannot be written."""
    write_all({path: body})


def write_all(files: Mapping[Path, bytes]) -> None:
    """Write some files: all of them beside first, so that a full disk leaves every old one as it was; then they are swapped in.

    Raises WritingError with one sentence that names the file and says how to go on.
    """
    beside: list[tuple[Path, Path]] = []
    path = Path()
    try:
        for path, body in files.items():
            beside.append((_beside(path, body), path))
        for scratch, path in beside:
            os.replace(scratch, path)
        for folder in {p.parent for p in files}:
            _sync_folder(folder)
    except (OSError, ValueError) as err:
        for scratch, _ in beside:
            with contextlib.suppress(OSError):
                scratch.unlink(missing_ok=True)
        raise _not_there(path, err) from err


def check_file(path: Path) -> None:
    """Look before long work whether a file can be written in a place; what stands there stays. Raises WritingError."""
    try:
        if path.is_dir():
            raise IsADirectoryError(EISDIR, "it is a folder")
        _beside(path, b"").unlink(missing_ok=True)
    except (OSError, ValueError) as err:
        raise _not_there(path, err) from err


def _not_there(path: Path, err: Exception) -> WritingError:
    return WritingError(f"{shown(path)} cannot be written: {reason(err)}; choose another folder or free some room")


def _beside(path: Path, body: bytes) -> Path:
    handle, name = tempfile.mkstemp(prefix=f".{path.name[:60]}.", suffix=".part", dir=path.parent)
    scratch = Path(name)
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(body)
            file.flush()
            os.fsync(file.fileno())
        _give_rights(scratch, path)
    except OSError:
        scratch.unlink(missing_ok=True)
        raise
    return scratch


def _give_rights(scratch: Path, path: Path) -> None:
    """The rights of the file that makes room, or those any new file has; a scratch file's own are for its owner alone."""
    try:
        mode = path.stat().st_mode & 0o777
    except OSError:
        mask = os.umask(0)
        os.umask(mask)
        mode = 0o666 & ~mask
    os.chmod(scratch, mode)


def _sync_folder(folder: Path) -> None:
    with contextlib.suppress(OSError):
        handle = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def make_folder(folder: Path) -> None:
    """Make a folder and those above it. Raises WritingError, also where a file stands in the way."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except (OSError, ValueError) as err:
        raise WritingError(f"{shown(folder)} cannot be made: {reason(err)}; choose another folder") from err


def check_folder(folder: Path) -> None:
    """Look before long work whether a folder is there or can be made. Raises WritingError; makes nothing."""
    try:
        there = next((p for p in (folder, *folder.absolute().parents) if p.exists()), Path("/"))
    except (OSError, ValueError) as err:
        raise WritingError(f"{shown(folder)} cannot be made: {reason(err)}; choose another folder") from err
    if not there.is_dir():
        raise WritingError(f"{shown(folder)} cannot be made: {shown(there)} is a file; choose another folder")
    if not os.access(there, os.W_OK | os.X_OK):
        raise WritingError(f"{shown(folder)} cannot be made: {shown(there)} is for reading only; choose another folder")


def reason(err: Exception) -> str:
    """What the system says of a failure, in its own words."""
    return (err.strerror if isinstance(err, OSError) else None) or str(err)


def shown(path: Path) -> str:
    """A file's name as text, also where it is no text."""
    return path.name.encode("utf-8", errors="replace").decode("utf-8", errors="replace") or str(path)
