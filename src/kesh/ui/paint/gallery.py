"""Finished pictures of trees, kept by content and made in the background. Paint events only copy pixmaps."""

from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import Any

from cachetools import LRUCache
from PyQt6.QtCore import QObject, QPointF, pyqtSignal
from PyQt6.QtGui import QImage, QPainter, QPainterPath, QPixmap, QTransform
from shapely.geometry.base import BaseGeometry

from kesh.base.errors import KeshError
from kesh.base.progress import StoppedError
from kesh.figure.grove import sitter
from kesh.figure.habit import Sitter
from kesh.figure.silhouette import silhouette
from kesh.figure.tree_figure import grow
from kesh.model.tree import Tree
from kesh.reference.tables import USUAL_BARK, USUAL_LEAF, Species
from kesh.ui.paint.tree_painter import paint_for, silhouette_path, tree_image
from kesh.ui.runner import Runner
from kesh.ui.theme.tokens import Theme

SMALL_PX_MM = 0.2
MOST_BYTES = 96 * 1024 * 1024


@dataclass(frozen=True)
class TreeView:
    """What decides how a tree's picture looks."""

    sitter: Sitter
    bark: str
    leaf: str
    bloom: str | None
    fruit: bool
    theme: Theme
    px_mm: float
    ratio: float


def view_of(tree: Tree, species: Species | None, theme: Theme, px_mm: float, ratio: float) -> TreeView | None:
    """The picture wanted for a tree; None when it cannot be drawn yet."""
    s = sitter(tree, species)
    return None if s is None else view_of_sitter(s, species, theme, px_mm, ratio)


def view_of_sitter(s: Sitter, species: Species | None, theme: Theme, px_mm: float, ratio: float) -> TreeView:
    """The picture wanted of what is known as a sitter already, as one tree of a group is."""
    return TreeView(
        s, species.bark_colour_hex if species else USUAL_BARK, species.leaf_colour_hex if species else USUAL_LEAF,
        species.flower_or_fruit_colour_hex if species else None,
        bool(species and species.flowering_or_fruiting in ("fruit", "both")), theme, round(px_mm, 3), ratio,
    )  # fmt: skip


def _likeness(view: TreeView) -> tuple[int, str, bool]:
    return view.sitter.seed, view.theme.name, view.px_mm < SMALL_PX_MM


def _made(view: TreeView) -> tuple[QImage, QPointF]:
    paint = paint_for(view.theme, view.bark, view.leaf, view.bloom, fruit=view.fruit)
    return tree_image(grow(view.sitter), paint, view.px_mm, view.ratio)


# pictures for lists are small enough to keep for as long as Kesh runs; only the window's own thread looks here
_SMALL: LRUCache[TreeView, tuple[QImage, QPointF]] = LRUCache(2048)
Packed = tuple[bytes, int, int, float, float, float]


def _packed(view: TreeView) -> Packed:
    """A picture on its way between processes."""
    image, corner = _made(view)
    bits = image.constBits()
    body = b"" if bits is None else bits.asstring(image.sizeInBytes())
    return body, image.width(), image.height(), image.devicePixelRatio(), corner.x(), corner.y()


def _unpacked(packed: Packed) -> tuple[QImage, QPointF]:
    body, width, height, ratio, x, y = packed
    # the copy owns its pixels
    image = QImage(body, width, height, 4 * width, QImage.Format.Format_ARGB32_Premultiplied).copy()
    image.setDevicePixelRatio(ratio)
    return image, QPointF(x, y)


class Gallery(QObject):
    """Hands out pictures at once when they are ready, otherwise makes them and tells when they are."""

    ready = pyqtSignal()

    def __init__(self, runner: Runner) -> None:
        super().__init__()
        self._runner = runner
        self._kept: OrderedDict[TreeView, tuple[QPixmap, QPointF]] = OrderedDict()
        self._latest: dict[tuple[int, str, bool], TreeView] = {}
        self._asked: set[TreeView] = set()
        self._outlines: LRUCache[Sitter, QPainterPath] = LRUCache(64)
        # the tree whose outline is being drawn, and the one that was drawn last
        self._outline_asked: Sitter | None = None
        self._outlined: Sitter | None = None
        self._bytes = 0

    def picture(self, view: TreeView) -> tuple[QPixmap, QPointF] | None:
        """(pixmap, corner from the trunk's foot in px), or None while it is being made."""
        found = self._kept.get(view)
        if found is not None:
            self._kept.move_to_end(view)
            return found
        if view in _SMALL:
            self._hold(view, _SMALL[view])
            return self._kept[view]
        if view not in self._asked:
            self._asked.add(view)

            self._runner.start(
                f"tree/{hash(view)}", lambda: self._painted(view), lambda answer: self._keep(view, answer)
            )
            return self._kept.get(view)
        return None

    def outline(self, sitter: Sitter) -> QPainterPath | None:
        """The outline of a tree in mm, y down: as it is, or an older one stretched while the new one is drawn; None before any."""
        if sitter not in self._outlines and self._outline_asked != sitter:
            self._outline_asked = sitter
            self._runner.start("outline", lambda: self._shape(sitter), lambda shape: self._keep_outline(sitter, shape))
        if sitter in self._outlines:
            self._outlined = sitter
        old = self._outlined
        if old is None or old.seed != sitter.seed or old not in self._outlines:
            return None
        wide = (sitter.left + sitter.right) / max(old.left + old.right, 1e-6)
        return QTransform.fromScale(wide, sitter.height / old.height).map(self._outlines[old])

    def _shape(self, sitter: Sitter) -> BaseGeometry | None:
        # of the many that a drag asks for only the last is drawn
        return self._elsewhere(partial(silhouette, sitter)) if self._outline_asked == sitter else None

    def _keep_outline(self, sitter: Sitter, shape: BaseGeometry | None) -> None:
        self._outline_asked = None
        if shape is not None:
            self._outlines[sitter] = silhouette_path(shape)
            self.ready.emit()

    def _painted(self, view: TreeView) -> tuple[QImage, QPointF]:
        return _unpacked(self._elsewhere(partial(_packed, view)))

    def _elsewhere(self, work: Callable[[], Any]) -> Any:
        """Drawn by another process; here while that one is still starting, and where it was ended: a tree never stays blank."""
        try:
            return self._runner.apart(work, wait=False)
        except StoppedError:
            raise
        except KeshError:
            return work()

    def draw(self, painter: QPainter, view: TreeView, foot: QPointF, *, hurry: bool = False) -> None:
        """Draw a tree with its foot at a point: the finished picture, or an older one stretched to the new measures.

        In a hurry nothing new is made: while one drags, every frame would ask for another picture.
        """
        found = self._kept.get(view) if hurry else self.picture(view)
        if found is not None:
            painter.drawPixmap(foot + found[1], found[0])
            return
        old = self._latest.get(_likeness(view))
        if old is not None and old in self._kept:
            pixmap, corner = self._kept[old]
            kx = (
                (view.sitter.left + view.sitter.right) * view.px_mm / ((old.sitter.left + old.sitter.right) * old.px_mm)
            )
            ky = view.sitter.height * view.px_mm / (old.sitter.height * old.px_mm)
            painter.save()
            painter.translate(foot)
            painter.scale(kx, ky)
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            painter.drawPixmap(corner, pixmap)
            painter.restore()

    def forget_asked(self) -> None:
        """Pictures that were being made for the collection before are asked for again when they are wanted."""
        self._asked.clear()
        self._outline_asked = None

    def _keep(self, view: TreeView, answer: object) -> None:
        if not isinstance(answer, tuple):
            return
        if view.px_mm < SMALL_PX_MM:
            _SMALL[view] = answer
        self._hold(view, answer)
        self._asked.discard(view)
        self.ready.emit()

    def _hold(self, view: TreeView, made: tuple[QImage, QPointF]) -> None:
        image, corner = made
        pixmap = QPixmap.fromImage(image)
        self._kept[view] = (pixmap, corner)
        self._latest[_likeness(view)] = view
        self._bytes += image.sizeInBytes()
        while self._bytes > MOST_BYTES and len(self._kept) > 1:
            _, (old, _) = self._kept.popitem(last=False)
            self._bytes -= old.width() * old.height() * 4
