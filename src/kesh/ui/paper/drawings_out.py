"""The drawing in sight as a file of its own: PNG, SVG or PDF."""

from pathlib import Path

from PyQt6.QtCore import QBuffer, QIODevice, QRectF
from PyQt6.QtGui import QImage, QPageLayout, QPageSize, QPainter, QPdfWriter
from PyQt6.QtSvg import QSvgGenerator
from PyQt6.QtWidgets import QWidget

from kesh.base.errors import KeshError
from kesh.base.writing import write_bytes


def memory() -> QBuffer:
    """A file in memory, to be written whole when it is whole."""
    device = QBuffer()
    device.open(QIODevice.OpenModeFlag.WriteOnly)
    return device


def save_drawing(view: QWidget, path: Path) -> None:
    """The drawing in sight as PNG, or as SVG or PDF by its ending. Raises KeshError when it cannot be written."""
    kind = path.suffix.lower()
    if kind == ".svg":
        write_bytes(path, _as_svg(view))
    elif kind == ".pdf":
        write_bytes(path, _as_pdf(view))
    else:
        write_picture(path, view.grab().toImage())


def write_picture(path: Path, picture: QImage) -> None:
    """A picture as PNG. Raises KeshError when it cannot be written."""
    device = memory()
    if not picture.save(device, "PNG"):
        raise KeshError(f"{path.name} cannot be made into a picture; try a smaller window")
    write_bytes(path, device.data().data())


def _as_svg(view: QWidget) -> bytes:
    device, generator = memory(), QSvgGenerator()
    generator.setOutputDevice(device)
    generator.setSize(view.size())
    generator.setViewBox(QRectF(0, 0, view.width(), view.height()))
    generator.setTitle("Kesh")
    painter = QPainter(generator)
    view.render(painter)
    painter.end()
    return device.data().data()


def _as_pdf(view: QWidget) -> bytes:
    device = memory()
    writer = QPdfWriter(device)
    writer.setTitle("Kesh")
    writer.setPageSize(QPageSize(QPageSize.PageSizeId.A4))
    writer.setPageOrientation(QPageLayout.Orientation.Landscape)
    painter = QPainter(writer)
    page = writer.pageLayout().paintRectPixels(writer.resolution())
    painter.scale(*(2 * (min(page.width() / view.width(), page.height() / view.height()),)))
    view.render(painter)
    painter.end()
    return device.data().data()
