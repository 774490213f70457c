"""A job as files: drawings as SVG and DXF, solids as STL, 3MF and GLB, the bill and its tables as CSV."""

import csv
import io
from pathlib import Path

from kesh.advice.making.job import Job
from kesh.formats.dxf import dxf
from kesh.formats.mesh import glb, stl, threemf
from kesh.formats.svg import svg
from kesh.progress import Progress
from kesh.writing import make_folder, write_all


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


def write_job(job: Job, folder: Path) -> list[Path]:
    """Write all files of a job but its PDF, all or none; returns their paths. Raises KeshError when the folder cannot be written."""
    make_folder(folder)
    files = job_bytes(job, folder)
    write_all(files)
    return list(files)


def job_bytes(job: Job, folder: Path, progress: Progress | None = None) -> dict[Path, bytes]:
    """All files of a job but its PDF, as they would stand in a folder. Raises StoppedError when it was stopped."""
    tell = (progress or Progress()).at
    files: dict[Path, bytes] = {}
    steps = len(job.drawings) + len(job.solids) + 2
    for n, drawing in enumerate(job.drawings):
        tell(n / steps, "Drawings")
        stem = f"{job.route}-{drawing.title.rsplit(', ', 1)[-1].replace(' ', '-').replace(':', '-')}"
        files[folder / f"{stem}.svg"] = svg(drawing).encode()
        files[folder / f"{stem}.dxf"] = dxf(drawing).encode()
    for n, (name, solid) in enumerate(job.solids):
        tell((len(job.drawings) + n) / steps, "Solids")
        files[folder / f"{job.route}-{name}.stl"] = stl(solid)
    if job.solids:
        files[folder / f"{job.route}.glb"] = glb(job.solids[0][1], job.pot.colour)
        # of a pot in pieces the whole is only to be looked at
        cut = any(name.startswith("piece-") for name, _ in job.solids)
        pieces = tuple((name, solid) for name, solid in job.solids if not (cut and name == "whole"))
        files[folder / f"{job.route}.3mf"] = threemf(pieces)
    files[folder / f"{job.route}-bill.csv"] = bill_csv(job).encode()
    tell(1.0)
    return files
