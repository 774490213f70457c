"""The `kesh` command. Everything but opening the window works without a display."""

import argparse
import json
import os
import sys
from collections.abc import Sequence
from datetime import date

from kesh.base.errors import FieldError, KeshError
from kesh.line.arguments import refuse, verb_parser, window_parser
from kesh.line.verb import names, verb


def main(argv: Sequence[str] | None = None) -> int:
    """Run a command; 0 when it worked, 1 when nothing was feasible or written, 2 after a one-line mistake."""
    words = list(sys.argv[1:] if argv is None else argv)
    try:
        if words and words[0] in names():
            return _run(words[0], _joined(words[1:]))
        return _open(window_parser().parse_args(words))
    except KeshError as err:
        print(f"kesh: {' '.join(str(err).split())}", file=sys.stderr)
        return 2


def _joined(words: list[str]) -> list[str]:
    """Places in px may begin with a minus; joined to their option they are not taken for an option of their own."""
    found: list[str] = []
    for word in words:
        if found and found[-1] in ("--known", "--card", "--soil", "--apex") and word[:2].strip("-.0123456789") == "":
            found[-1] += f"={word}"
        else:
            found.append(word)
    return found


def _day(text: str, option: str = "--date") -> date:
    """A day as it is written on the command line. Raises FieldError."""
    try:
        return date.fromisoformat(text)
    except ValueError as err:
        raise FieldError(option, f"'{text}' is no day; write it as 2026-03-15") from err


def _run(name: str, words: list[str]) -> int:
    asked = verb(name)
    args = verb_parser(name, asked).parse_args(words)
    for option, field in (("--date", "date"), ("--from", "first"), ("--to", "last")):
        if getattr(args, field, None) is not None:
            # not by the parser: its own refusal is many lines
            setattr(args, field, _day(getattr(args, field), option))
    found = asked.run(args)
    if found is not None:
        text = None if asked.text is None or args.json else "\n".join(asked.text(found))
        if not _told(json.dumps(found, indent=1, ensure_ascii=False, allow_nan=False) if text is None else text):
            return 1
    return 0 if asked.reached(found, args) else 1


def _told(text: str) -> bool:
    """Whether it could be written out; a full disk is said, a reader who has seen enough is no mistake."""
    try:
        print(text, flush=True)
    except OSError as err:
        # what is left in the stream would fail once more when Python ends
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        if isinstance(err, BrokenPipeError):
            return True
        print(f"kesh: nothing was written: {err.strerror}; make room or write it elsewhere", file=sys.stderr)
        return False
    return True


def _open(args: argparse.Namespace) -> int:
    if args.picture is None:
        refuse(args, "without --picture", size="--size")
    if args.file is not None:
        refuse(args, "beside a file: the demo has its own", demo="--demo")
    args.size = args.size or "1280x800"
    try:
        width, height = (int(part) for part in args.size.lower().split("x"))
    except ValueError as err:
        raise FieldError("--size", f"'{args.size}' is not WIDTHxHEIGHT, such as 1280x800") from err
    from kesh.ui.app import run

    return run(
        args.file,
        demo=args.demo,
        mine=args.mine,
        picture=args.picture,
        step=args.step,
        theme=args.theme,
        size=(width, height),
    )


if __name__ == "__main__":
    sys.exit(main())
