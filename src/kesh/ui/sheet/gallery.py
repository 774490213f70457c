"""Finished pictures of trees, kept by content and made in the background. Paint events only copy pixmaps."""

from collections import OrderedDict
from dataclasses import dataclass
from functools import lru_cache

from PyQt6.QtCore import QObject, QPointF, pyqtSignal
from PyQt6.QtGui import QImage, QPainter, QPixmap

from kesh.figure.habit import Sitter, sitter
from kesh.figure.tree_figure import grow
from kesh.model.tree import Tree
from kesh.reference.tables import Species
from kesh.ui.runner import Runner
from kesh.ui.sheet.tree_painter import paint_for, tree_image
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
    if s is None:
        return None
    return TreeView(
        s, species.bark_colour_hex if species else "#7A6A58", species.leaf_colour_hex if species else "#6B8248",
        species.flower_or_fruit_colour_hex if species else None,
        bool(species and species.flowering_or_fruiting in ("fruit", "both")), theme, round(px_mm, 3), ratio,
    )  # fmt: skip


def _likeness(view: TreeView) -> tuple[int, str, bool]:
    return view.sitter.seed, view.theme.name, view.px_mm < SMALL_PX_MM


def _made(view: TreeView) -> tuple[QImage, QPointF]:
    paint = paint_for(view.theme, view.bark, view.leaf, view.bloom, fruit=view.fruit)
    return tree_image(grow(view.sitter), paint, view.px_mm, view.ratio)


@lru_cache(maxsize=2048)
def _small_picture(view: TreeView) -> tuple[QImage, QPointF]:
    """Pictures for lists are small enough to keep for as long as Kesh runs."""
    return _made(view)


class Gallery(QObject):
    """Hands out pictures at once when they are ready, otherwise makes them and tells when they are."""

    ready = pyqtSignal()

    def __init__(self, runner: Runner) -> None:
        super().__init__()
        self._runner = runner
        self._kept: OrderedDict[TreeView, tuple[QPixmap, QPointF]] = OrderedDict()
        self._latest: dict[tuple[int, str, bool], TreeView] = {}
        self._asked: set[TreeView] = set()
        self._bytes = 0

    def picture(self, view: TreeView) -> tuple[QPixmap, QPointF] | None:
        """(pixmap, corner from the trunk's foot in px), or None while it is being made."""
        found = self._kept.get(view)
        if found is not None:
            self._kept.move_to_end(view)
            return found
        if view not in self._asked:
            self._asked.add(view)

            make = _small_picture if view.px_mm < SMALL_PX_MM else _made
            self._runner.start(f"tree/{hash(view)}", lambda: make(view), lambda answer: self._keep(view, answer))
            return self._kept.get(view)
        return None

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

    def _keep(self, view: TreeView, answer: object) -> None:
        if not isinstance(answer, tuple):
            return
        image, corner = answer
        pixmap = QPixmap.fromImage(image)
        self._kept[view] = (pixmap, corner)
        self._latest[_likeness(view)] = view
        self._asked.discard(view)
        self._bytes += image.sizeInBytes()
        while self._bytes > MOST_BYTES and len(self._kept) > 1:
            _, (old, _) = self._kept.popitem(last=False)
            self._bytes -= old.width() * old.height() * 4
        self.ready.emit()
