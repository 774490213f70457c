"""A calliper, scale, moisture probe or weather station that is not there: a small program on a pseudo-terminal.

    python -m kesh.devices.stand_in calliper

It prints the line's path, which Kesh connects to as it would to a real one. Each line typed here is a press of the
device's button: a figure is sent as a reading, any other text as it stands, so that faults can be tried; `end` unplugs it.
"""

import os
import sys
import tty
from collections.abc import Iterable, Iterator
from itertools import takewhile
from typing import TextIO

KINDS = {"calliper": ("L", "mm", "0.02", 2), "scale": ("M", "kg", "0.005", 3), "probe": ("P", "share", "0.03", 2)}


def sent(kind: str, typed: Iterable[str]) -> Iterator[bytes]:
    """What the device sends for each line typed. Raises KeyError for a device that is not known."""
    if kind == "station":
        yield from (
            f"W {line.strip()}\n".encode("ascii", "replace") for line in takewhile(lambda t: t.strip() != "end", typed)
        )
        return
    letter, unit, tolerance, digits = KINDS[kind]
    for line in typed:
        text = line.strip()
        if text == "end":
            return
        try:
            yield f"{letter} {float(text):.{digits}f} {unit} {tolerance}\r\n".encode()
        except ValueError:
            yield f"{text}\n".encode("ascii", "replace")


def main(kind: str, typed: TextIO, out: TextIO) -> int:
    """Open a pseudo-terminal, say where, and send until the text ends."""
    if kind not in (*KINDS, "station"):
        print(f"stand_in: '{kind}' is not known; write {', '.join(KINDS)} or station", file=sys.stderr)
        return 2
    own, other = os.openpty()
    tty.setraw(other)
    print(os.ttyname(other), file=out, flush=True)
    for message in sent(kind, typed):
        os.write(own, message)
    os.close(other)
    os.close(own)
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1] if len(sys.argv) > 1 else "calliper", sys.stdin, sys.stdout))
