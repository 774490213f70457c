"""A table out of a file of unknown making: encoding, separator, quotes and headers, with one sentence for each row that is lost."""

import csv
import io
import re
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from kesh.base.errors import BundleError
from kesh.base.units import LITRES, MASSES, MM
from kesh.base.words import counted, folded
from kesh.base.writing import reason, shown

MOST_BYTES = 64 * 1024 * 1024
MOST_ROWS = 200_000
# a cell may run over some lines; an opening quote that is not closed by then is a slip
MOST_LINES = 40
MARKS = ((b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16"), (b"\xef\xbb\xbf", "utf-8-sig"))
UNITS = {
    **MM,
    **LITRES,
    **MASSES,
    "millimeter": 1.0,
    "millimetre": 1.0,
    "centimeter": 10.0,
    "centimetre": 10.0,
    "inches": 25.4,
}


@dataclass(frozen=True)
class Header:
    """A column: its own words, them put plainly, and the unit that stands with them."""

    words: str
    plain: str
    unit: str


@dataclass(frozen=True)
class Row:
    """Cells by plain header, and the line of the file where the row begins."""

    line: int
    cells: dict[str, str]


@dataclass(frozen=True)
class Table:
    """Headers, rows, and (line, sentence) for what is no row."""

    headers: tuple[Header, ...]
    rows: tuple[Row, ...]
    lost: tuple[tuple[int, str], ...]


def read_text(path: Path) -> str:
    """The text of a list. Raises BundleError for what is missing, no text or too large."""
    name = shown(path)
    try:
        if path.stat().st_size > MOST_BYTES:
            raise BundleError(f"{name} is larger than {MOST_BYTES // 2**20} MB; split it into parts")
        body = path.read_bytes()
    except FileNotFoundError as err:
        raise BundleError(f"{name}: there is no such file") from err
    except (OSError, ValueError) as err:
        raise BundleError(f"{name} cannot be read as text: {reason(err)}") from err
    return decoded(body, name)


def read_table(path: Path) -> Table:
    """The table in a file. Raises BundleError for what is missing, no text, too large or has no header."""
    return table_of(read_text(path), shown(path))


def decoded(body: bytes, name: str) -> str:
    """The text of a file: UTF-8 or UTF-16 by its mark or its look, else Latin-1. Raises BundleError for what is no text."""
    for mark, encoding in MARKS:
        if body.startswith(mark):
            try:
                return body.decode(encoding)
            except UnicodeDecodeError as err:
                raise BundleError(f"{name} cannot be read as text: it is cut short or damaged") from err
    head = body[:4000]
    if head.count(0) > len(head) // 4:
        for encoding, at in (("utf-16-le", 1), ("utf-16-be", 0)):
            if head[at::2].count(0) > len(head) // 4:
                try:
                    return body.decode(encoding)
                except UnicodeDecodeError:
                    break
    if 0 in head:
        raise BundleError(f"{name} cannot be read as text: it is a file of another kind; save it as CSV first")
    try:
        return body.decode("utf-8")
    except UnicodeDecodeError:
        return body.decode("cp1252", errors="replace")


def table_of(text: str, name: str) -> Table:
    """The table in a text. Raises BundleError when its first line is no row of column names."""
    lines = text.replace("\r\n", "\n").replace("\r", "\n").split("\n")
    first = next((i for i, line in enumerate(lines) if line.strip()), None)
    if first is None:
        raise BundleError(f"{name} is empty; its first line should name the columns")
    said = re.fullmatch(r"\s*sep=(.)\s*", lines[first], re.IGNORECASE)
    if said:
        first += 1
    if first >= len(lines):
        raise BundleError(f"{name} is empty; its first line should name the columns")
    parting = said.group(1) if said else max(",;\t|", key=lines[first].count)
    names = _cells(lines[first], parting)
    headers = tuple(header(word) for word in names or [])
    rows: list[Row] = []
    lost: list[tuple[int, str]] = []
    for line, cells in _rows(lines, first + 1, parting, len(headers)):
        if cells is None:
            lost.append((line, "a quote is not closed; this row is left out"))
        elif any(cell.strip() for cell in cells):
            if len(rows) >= MOST_ROWS:
                lost.append((line, f"more than {MOST_ROWS} rows; the rest is left out"))
                break
            spare = len(cells) - len(headers)
            if spare > 0 and any(cell.strip() for cell in cells[len(headers) :]):
                lost.append((line, f"{counted(spare, 'cell')} more than there are columns; this row is left out"))
                continue
            rows.append(Row(line, {h.plain: c.strip() for h, c in zip(headers, cells, strict=False)}))
    return Table(headers, tuple(rows), tuple(lost))


def rows_of(text: str) -> tuple[list[tuple[int, list[str]]], list[tuple[int, str]]]:
    """(rows, lost) of a text as (line, cells), its first line among them, whatever parts its cells; lost are (line, why)."""
    lines = text.replace("\r\n", "\n").replace("\r", "\n").split("\n")
    start = next((i for i, line in enumerate(lines) if line.strip()), 0)
    told = re.fullmatch(r"\s*sep=(.)\s*", lines[start], re.IGNORECASE) if lines else None
    start += 1 if told else 0
    parting = told.group(1) if told else _parting(lines[start:])
    width = max((line.count(parting) for line in lines[start : start + 20]), default=0) + 1
    rows: list[tuple[int, list[str]]] = []
    lost: list[tuple[int, str]] = []
    for line, cells in _rows(lines, start, parting, width):
        if cells is None:
            lost.append((line, "a quote is not closed; this row is left out"))
        elif len(rows) >= MOST_ROWS:
            lost.append((line, f"more than {MOST_ROWS} rows; the rest is left out"))
            break
        else:
            rows.append((line, cells))
    return rows, lost


def _parting(lines: list[str]) -> str:
    """The sign between cells: the one that most of the first lines have, as often; a comma last, for it stands in figures too."""
    some = [line for line in lines if line.strip()][:20]
    best, most = ",", 0.0
    for sign, weight in (("\t", 1.2), (";", 1.1), ("|", 1.05), (",", 1.0)):
        counts = [line.count(sign) for line in some]
        usual = max(set(counts), key=counts.count, default=0) or max(counts, default=0)
        share = weight * sum(1 for c in counts if c and abs(c - usual) <= 1) / max(len(some), 1)
        if usual and share > most:
            best, most = sign, share
    return best


def header(words: str) -> Header:
    """A column's name put plainly, its unit apart: 'Length (cm)', 'length_mm' and 'LENGTH' are all a length."""
    text = words.strip().lower().replace("_", " ").replace("\N{NO-BREAK SPACE}", " ")
    unit = ""
    found = re.search(r"[\(\[]\s*([a-z\"]+)\s*[\)\]]", text) or re.search(r"(?:[\s,/]|\bin\s)([a-z\"]+)\s*$", text)
    if found and found.group(1) in UNITS and found.group(1) != text:
        unit = found.group(1)
        text = text[: found.start()] + text[found.end() :]
        text = re.sub(r"\s+in\s*$", "", text)
    # 'Höhe' and 'Hohe' are one word
    return Header(words.strip(), re.sub(r"[^a-z0-9#]+", " ", folded(text)).strip(), unit)


def _cells(text: str, parting: str) -> list[str] | None:
    """The cells of one row; None when its quotes are at odds."""
    try:
        found = list(csv.reader(io.StringIO(text), delimiter=parting, skipinitialspace=True, strict=True))
    except csv.Error:
        return None
    return found[0] if len(found) == 1 else None


def _rows(lines: list[str], start: int, parting: str, width: int) -> Iterator[tuple[int, list[str] | None]]:
    """(line number, cells) row by row. A quote that is never closed loses its own line, not those after it."""
    i = start
    while i < len(lines):
        if not lines[i].strip():
            i += 1
            continue
        if lines[i].count('"') % 2 == 0:
            cells = _cells(lines[i], parting)
            yield i + 1, cells if cells is not None else _bare(lines[i], parting)
            i += 1
            continue
        taken = _run_on(lines, i, parting, width)
        if taken is None:
            yield i + 1, None
            i += 1
        else:
            yield i + 1, taken[0]
            i = taken[1]


def _bare(text: str, parting: str) -> list[str]:
    """A row whose quotes are signs of inches, not of text."""
    return [cell.strip() for cell in text.split(parting)]


def _run_on(lines: list[str], i: int, parting: str, width: int) -> tuple[list[str], int] | None:
    """A row over several lines: where its quotes close and its cells are as many as the columns."""
    if '"' not in re.sub(r'(?<=\d)\s?"', "", lines[i]):
        # every quote stands behind a figure: they are inches
        return _bare(lines[i], parting), i + 1
    text = lines[i]
    for k in range(i + 1, min(i + MOST_LINES, len(lines))):
        text = f"{text}\n{lines[k]}"
        if lines[k].count('"') % 2:
            cells = _cells(text, parting)
            return (cells, k + 1) if cells is not None and len(cells) == width else None
    return None
