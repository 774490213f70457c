"""The work sheet on paper: the place to scale, the cut list, the work with boxes to tick."""

from kesh.ui.paper.worksheet.write import worksheet_pdf, write_worksheet

__all__ = ["worksheet_pdf", "write_worksheet"]
