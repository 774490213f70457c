"""The work sheet as PDF, A4 or A3."""

from datetime import date
from pathlib import Path

from PyQt6.QtGui import QPageSize, QPainter

from kesh.advice.planting.plan import PlantingPlan
from kesh.base.errors import FieldError
from kesh.base.writing import write_bytes
from kesh.ui.paper.printing import DPI, UNIT_MM, paper
from kesh.ui.paper.worksheet.cuts import cuts_page
from kesh.ui.paper.worksheet.place import place_page, planting_of
from kesh.ui.paper.worksheet.sheet import Sheet
from kesh.ui.paper.worksheet.special import group_page, special_page
from kesh.ui.paper.worksheet.work import work_pages

PAPERS = {"A4": (QPageSize.PageSizeId.A4, 840.0, 1188.0), "A3": (QPageSize.PageSizeId.A3, 1188.0, 1680.0)}


def write_worksheet(plan: PlantingPlan, path: Path, today: date, size: str = "A4") -> None:
    """Write the work sheet. Raises KeshError when the place cannot be written."""
    write_bytes(path, worksheet_pdf(plan, today, size))


def worksheet_pdf(plan: PlantingPlan, today: date, size: str = "A4") -> bytes:
    """All pages as PDF. Raises FieldError for a paper that is not known."""
    if size not in PAPERS:
        raise FieldError("paper", f"'{size}' is not A4 or A3")
    page_size, wide, high = PAPERS[size]
    found: list[bytes] = []
    with paper(f"{plan.a.case.tree.name} into {plan.a.pot.name}: work sheet", found, page_size) as (painter, writer):
        painter.scale(DPI / 25.4 * UNIT_MM, DPI / 25.4 * UNIT_MM)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        sheet = Sheet(painter, writer, plan, today, wide, high)
        place_page(sheet)
        sheet.turn()
        if special_page(sheet, planting_of(sheet)):
            sheet.turn()
        if group_page(sheet):
            sheet.turn()
        cuts_page(sheet)
        sheet.turn()
        work_pages(sheet)
    return found[0]
