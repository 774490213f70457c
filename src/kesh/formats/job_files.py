"""A job as files in a folder of its own: drawings as SVG and DXF, solids as STL, 3MF and GLB, bill and tables as CSV, contents."""

import csv
import io
import re
import unicodedata
from collections.abc import Iterable, Mapping
from datetime import date
from pathlib import Path

from kesh.advice.routes.job import Job
from kesh.base.errors import KeshError
from kesh.base.progress import Progress
from kesh.base.writing import WritingError, make_folder, reason, write_all
from kesh.formats.dxf import dxf
from kesh.formats.mesh import glb, stl, threemf
from kesh.formats.svg import svg

CONTENTS, SHEET = "contents.txt", "the maker's sheet, to print at 100 %"
MOST_NAME = 60


class ThereAlreadyError(KeshError):
    """Files of an earlier run stand where these would go; `names` are those that would be replaced or taken away."""

    def __init__(self, folder: Path, names: tuple[str, ...]) -> None:
        self.folder, self.names = folder, names
        some = ", ".join(names[:3]) + (f" and {len(names) - 3} more" if len(names) > 3 else "")
        super().__init__(f"{folder.parent.name}/{folder.name} holds files already ({some}); nothing was written")


def plain(text: str) -> str:
    """A name as part of a file name: letters and figures of any script, hyphens for the rest."""
    folded = unicodedata.normalize("NFKC", text).lower()
    return re.sub(r"[^\w]+|_+", "-", folded).strip("-")[:MOST_NAME].strip("-") or "pot"


def shown_name(text: str) -> str:
    """A name as part of a folder's name: as it is written, without what a file system does not take."""
    return re.sub(r'[\x00-\x1f/\\:*?"<>|]+', "-", text).strip(" .")[:MOST_NAME].strip(" .") or "pot"


def run_folder(root: Path, tree: str, job: Job) -> Path:
    """The folder of one route for one tree and pot: `TREE - POT/route`."""
    pot = shown_name(job.pot.name)
    return root / (f"{shown_name(tree)} - {pot}" if tree else pot) / job.route


def bill_csv(job: Job) -> str:
    """What to buy, then every table of the job."""
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(["what", "amount", "unit", "note"])
    for item in job.bill:
        rows.writerow([item.what, f"{item.amount:.3f}".rstrip("0").rstrip("."), item.unit, item.note])
    for name, head, lines in job.tables:
        rows.writerow([])
        rows.writerow([name])
        rows.writerow(head)
        rows.writerows(lines)
    return out.getvalue()


def job_bytes(job: Job, tree: str = "", progress: Progress | None = None) -> dict[str, tuple[bytes, str]]:
    """All files of a job but its PDF and its contents: name to (bytes, what it is). Raises StoppedError when it was stopped."""
    tell = (progress or Progress()).at
    files: dict[str, tuple[bytes, str]] = {}
    head = file_head(job, tree)
    steps = len(job.drawings) + len(job.solids) + 2
    for n, drawing in enumerate(job.drawings):
        tell(n / steps, "Drawings")
        part = drawing.title.rsplit(", ", 1)[-1]
        files[f"{head}-{plain(part)}.svg"] = svg(drawing).encode(), f"drawing, {part}, true to size in mm"
        files[f"{head}-{plain(part)}.dxf"] = dxf(drawing).encode(), f"drawing, {part}, for a drawing program, mm"
    for n, (name, solid) in enumerate(job.solids):
        tell((len(job.drawings) + n) / steps, "Solids")
        size = " × ".join(f"{v:.0f}" for v in solid.extents)
        what = "the whole pot, to look at" if name == "whole" and job.assembly and len(job.assembly) > 1 else name
        files[f"{head}-{name}.stl"] = stl(solid), f"solid, {what}, {size} mm"
    if job.solids:
        files[f"{head}.glb"] = (
            glb(job.solids[0][1], job.pot.colour),
            "the whole in its colour, to turn and look at, metres",
        )
        # of a pot in pieces the whole is only to be looked at
        cut = any(name.startswith("piece-") for name, _ in job.solids)
        pieces = tuple((name, solid) for name, solid in job.solids if not (cut and name == "whole"))
        files[f"{head}.3mf"] = threemf(pieces), "everything that is printed, in one file, mm"
    if job.bill or any(rows for _, _, rows in job.tables):
        files[f"{head}-bill.csv"] = bill_csv(job).encode(), "what to buy and every table of the sheet"
    tell(1.0)
    return files


def file_head(job: Job, tree: str = "") -> str:
    """How the names of a job's files begin: tree, pot, route."""
    return "-".join(plain(t) for t in (tree, job.pot.name, job.route) if t)


def with_sheet(files: Mapping[str, tuple[bytes, str]], job: Job, tree: str, pdf: bytes) -> dict[str, tuple[bytes, str]]:
    """The files of a job and its sheet."""
    return {**files, f"{file_head(job, tree)}-sheet.pdf": (pdf, SHEET)}


def in_use(folder: Path, job: Job, tree: str) -> tuple[str, ...]:
    """Files in a folder that a run of this job may replace or take away, told before its files are drawn."""
    head = file_head(job, tree)
    return standing(folder, [name for name in _names(folder) if name.startswith(head)])


def _names(folder: Path) -> set[str]:
    try:
        return {p.name for p in folder.iterdir()} if folder.is_dir() else set()
    except OSError:
        return set()


def contents(job: Job, tree: str, files: Mapping[str, tuple[bytes, str]], today: date) -> str:
    """The list of what lies in a run's folder, a line for each file."""
    whom = f"for {tree}" if tree else "for no tree"
    wide = max((len(name) for name in files), default=0)
    lines = [f"{job.title}, {whom}, {today.isoformat()}", ""]
    lines += [f"{name.ljust(wide)}  {what}" for name, (_, what) in sorted(files.items())]
    return "\n".join([*lines, ""])


def listed(folder: Path) -> tuple[str, ...]:
    """Files that an earlier run's contents name and that are still there."""
    try:
        lines = (folder / CONTENTS).read_text(encoding="utf-8").splitlines()[2:]
    except (OSError, UnicodeDecodeError):
        return ()
    names = [line.split("  ")[0].strip() for line in lines]
    return tuple(n for n in names if n and Path(n).name == n and (folder / n).is_file())


def standing(folder: Path, names: Iterable[str]) -> tuple[str, ...]:
    """Files in a folder that a run with these names would replace or take away."""
    return tuple(sorted((_names(folder) & {*names, CONTENTS}) | set(listed(folder))))


def write_run(
    folder: Path, job: Job, tree: str, files: Mapping[str, tuple[bytes, str]], today: date, *, force: bool = False
) -> list[Path]:
    """Write a run's files and their contents, all or none; returns their paths.

    With `force` the files of an earlier run make room, those it leaves over are taken away; files of others stay.
    Raises ThereAlreadyError without it, WritingError when the folder cannot be written.
    """
    old, names = listed(folder), {*files, CONTENTS}
    hit = standing(folder, files)
    if hit and not force:
        raise ThereAlreadyError(folder, hit)
    make_folder(folder)
    body = {folder / name: data for name, (data, _) in files.items()}
    write_all({**body, folder / CONTENTS: contents(job, tree, files, today).encode()})
    for name in sorted(set(old) - names):
        try:
            (folder / name).unlink(missing_ok=True)
        except OSError as err:
            raise WritingError(
                f"the new files are written, but {name} of an earlier run cannot be taken away: {reason(err)}; delete it"
            ) from err
    return [*body, folder / CONTENTS]


def write_job(job: Job, root: Path, tree: str = "", today: date | None = None, *, force: bool = False) -> list[Path]:
    """All files of a job but its PDF, in its own folder under a root. Raises as `write_run` does."""
    day = today or date.today()
    return write_run(run_folder(root, tree, job), job, tree, job_bytes(job, tree), day, force=force)
