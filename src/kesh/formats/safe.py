"""Writing files so that the old or the new one stands on the disk, never half of each."""

import os
from pathlib import Path

from kesh.errors import KeshError


def write_text(path: Path, text: str) -> None:
    """Write beside, then swap. Raises KeshError when the place cannot be written."""
    write_bytes(path, text.encode("utf-8"))


def write_bytes(path: Path, body: bytes) -> None:
    """Write beside, then swap. Raises KeshError when the place cannot be written."""
    scratch = path.with_name(path.name + ".part")
    try:
        scratch.write_bytes(body)
        os.replace(scratch, path)
    except OSError as err:
        scratch.unlink(missing_ok=True)
        raise KeshError(
            f"{path.name} cannot be written: {err.strerror or err}; choose another folder or free some room"
        ) from err
