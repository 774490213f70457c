"""The tree cut out of its photograph: what is background, foliage and wood, found from colours, texture and place."""

from collections.abc import Callable
from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.base.errors import FieldError
from kesh.base.progress import Progress
from kesh.photo.bridge import lost_stem
from kesh.photo.busy import before_busy
from kesh.photo.classes import BACKGROUND, FOLIAGE, WOOD, Image, Mask
from kesh.photo.garden.around import Trials, cut_around, filled
from kesh.photo.garden.edge import to_half
from kesh.photo.garden.propose import about, usual
from kesh.photo.garden.stem_edges import StemEdges
from kesh.photo.garden.twigs import is_twiggy, twigs_alone
from kesh.photo.outline import belonging, half_way, hanging_growth, one_tree
from kesh.photo.parts import told_apart
from kesh.photo.plain import FLAT_SHARE, before_plain, flat_share, smooth_ground
from kesh.photo.snap import snapped
from kesh.photo.tree_cut import TreeCut, resized, share_differing
from kesh.photo.view import Hints, View

FINE_PX = 1500
Bools = NDArray[np.bool_]
Floats = NDArray[np.float64]
Tell = Callable[[float, str], None]
# without a loop: cut-outs that differ by no more than this share are trusted, and two ways that agree so far
SURE_ALONE, AGREE = 0.13, 0.93
LEAST_PX = 30
TOUCHING = 0.004
# ground cleared from between twigs counts so much as doubt [J]: with less, twigs before gravel went unsaid
CLEARED = 0.3
# so many rows of the trunk may be hidden before its edges end there
HIDDEN_ROWS = 6
NO_LOOP = "the loop holds nothing above the soil mark, or leaves no background outside; draw it round crown and trunk"
NO_TREE = "no tree was found above the soil mark; set the mark on the trunk's foot, draw a loop round the tree, or paint it in"


def cut_out(image: Image, hints: Hints, progress: Progress | None = None) -> Mask:
    """Classes (H, W) of a BGR picture: 0 background, 128 foliage, 255 wood; `cut_tree` without its doubt."""
    return cut_tree(image, hints, progress).mask


def cut_tree(image: Image, hints: Hints, progress: Progress | None = None) -> TreeCut:
    """The tree of a BGR picture (H, W, 3), cut out within the hints' loop, or within one that is proposed.

    Raises FieldError when the foot lies outside the picture or nothing but background is found, StoppedError when
    the progress was stopped.
    """
    tell = (progress or Progress()).at
    high, wide = image.shape[:2]
    x, y = hints.soil
    if not (0 <= x < wide and 0.04 * high < y <= high):
        raise FieldError("soil", f"the soil mark ({x:g}, {y:g}) lies outside the picture of {wide} × {high} px")
    scale = min(1.0, FINE_PX / max(high, wide))
    small = cv2.resize(image, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA) if scale < 1 else image
    view = View.of(np.asarray(small, np.uint8), hints, scale)
    tell(0.05, "Reading the background")
    if hints.loop is not None:
        found = _within(view, np.asarray(hints.loop, float) * scale, tell)
    else:
        found = _without_a_loop(view, tell)
    tell(0.85, "Telling leaves from wood")
    classes = told_apart(view.lab, found.tree, view.soil)
    if is_twiggy(classes):
        found, classes = _of_twigs(found, classes, view)
    others = np.stack([_classes_like(classes, tree) for tree in found.others])
    doubt = max(share_differing(classes, others), found.doubt)
    edges = found.edges_px(scale, classes)
    tell(0.97)
    if scale < 1:
        classes = resized(classes, (wide, high))
    tell(1.0)
    loop = hints.loop if hints.loop is not None else found.loop / scale
    return TreeCut(classes, others, doubt, np.asarray(loop, float), hints.loop is None, edges)


@dataclass(frozen=True, eq=False)
class _Found:
    """The tree (H, W) in px of the view, others at a smaller size (n, h, w), the doubt of the way, and the loop."""

    tree: Bools
    others: tuple[Bools, ...]
    doubt: float
    loop: Floats
    edges: StemEdges | None

    def edges_px(self, scale: float, classes: Mask) -> Floats | None:
        """The trunk's edges as far as they are followed and wood lies between them, in px of the picture (n, 4)."""
        e = self.edges
        rows = 0 if e is None else min(e.followed(), _while_wood(e, classes))
        if e is None or rows < 8:
            return None
        return np.column_stack([e.y / scale, e.left / scale, e.right / scale, e.clear])[:rows]


def _of_twigs(found: _Found, classes: Mask, view: View) -> tuple[_Found, Mask]:
    """A bare tree without the ground between its twigs, in all its cut-outs."""
    free = _free(view, found.loop)
    tree = twigs_alone(view.bgr, classes > 0, free)
    made = np.where(tree, np.where(classes > 0, classes, WOOD), BACKGROUND).astype(np.uint8)
    small = tuple(_other_twigs(other, view, free) for other in found.others)
    # how much went that all had taken for tree tells of the doubt too, as do two ways that disagree
    cleared = CLEARED * _apart(made, found.others)
    alone = found.doubt <= _apart(classes, found.others) + 1e-6
    doubt = max(_apart(made, small), cleared, 0.0 if alone else found.doubt)
    return replace(found, tree=tree, others=small, doubt=doubt), made


def _other_twigs(other: Bools, view: View, free: Bools) -> Bools:
    """Another cut-out, at its smaller size, with its own twigs told apart at the view's."""
    whole = cv2.resize(other.astype(np.float32), free.shape[::-1], interpolation=cv2.INTER_LINEAR) > 0.5
    found = twigs_alone(view.bgr, np.asarray(whole, bool), free).astype(np.float32)
    return np.asarray(cv2.resize(found, other.shape[::-1], interpolation=cv2.INTER_AREA) > 0.5)


def _apart(classes: Mask, others: tuple[Bools, ...]) -> float:
    return share_differing(classes, np.array(others, np.uint8))


def _while_wood(edges: StemEdges, classes: Mask) -> int:
    """In how many rows from the soil upward wood lies between the edges, until leaves hide it for a while."""
    hidden = 0
    for n, (y, left, right) in enumerate(zip(edges.y, edges.left, edges.right, strict=True)):
        row = classes[int(np.clip(y, 0, len(classes) - 1)), max(int(left), 0) : int(right) + 1]
        hidden = hidden + 1 if np.mean(row == WOOD) < 0.5 else 0
        if hidden > HIDDEN_ROWS:
            return n + 1 - hidden
    return len(edges.y)


def _within(view: View, loop: Floats, tell: Tell) -> _Found:
    """The tree inside a loop (n, 2) in px of the view."""
    trials = cut_around(view, loop, lambda share: tell(0.1 + 0.7 * share, "Learning tree and background"))
    return _tidied(view, loop, trials)


def _without_a_loop(view: View, tell: Tell) -> _Found:
    """The tree inside a loop that is proposed: round what stands before a plain wall, or where a tree would stand.

    Before anything else a cut-out is trusted when its trials agree, or when two ways that know nothing of each other
    do; otherwise how far they disagree is its doubt.
    """
    ground = smooth_ground(view)
    if ground.plain:
        first = before_plain(view, ground)
        if flat_share(first, view) <= FLAT_SHARE:
            first = one_tree(first, view)
            if np.count_nonzero(first) < LEAST_PX:
                raise FieldError("photo", NO_TREE)
            return _within(view, _about(first, view), tell)
    by_place = _within(view, usual(view), lambda share, text: tell(0.1 + 0.4 * share, text))
    if by_place.doubt <= SURE_ALONE and not _touches(by_place.tree, by_place.loop):
        return by_place
    first = one_tree(before_busy(view, lambda share, text: tell(0.5 + 0.2 * share, text)), view)
    first |= lost_stem(first, view)
    by_border = _within(view, _about(first, view), lambda share, text: tell(0.6 + 0.25 * share, text))
    agree = _overlap(by_place.tree, by_border.tree)
    if agree >= AGREE:
        return by_border
    if np.count_nonzero(first) < LEAST_PX:
        raise FieldError("photo", NO_TREE)
    first |= hanging_growth(first, view)
    first = _at_edges(half_way(first, view), view, lambda: tell(0.8, "Cleaning the outline"))
    doubt = max(by_border.doubt, 1 - agree, 1 - _overlap(first, by_border.tree))
    return _Found(first, by_border.others, doubt, by_border.loop, by_border.edges)


def _at_edges(tree: Bools, view: View, tell: Callable[[], None]) -> Bools:
    """The outline drawn to the edges of colour above the soil line; what hangs below it stays as it was found."""
    found = tree.copy()
    found[: view.above] = (snapped(view.bgr, tree, tell=tell) & ~view.barred)[: view.above]
    return found


def _touches(tree: Bools, loop: Floats) -> bool:
    """Whether a tree reaches the loop in more than a twig: then the loop may have cut it short."""
    line: Image = np.zeros(tree.shape, np.uint8)
    cv2.polylines(line, [np.round(loop).astype(np.int32)], True, 1, max(3, round(0.012 * tree.shape[0])))
    return float(np.count_nonzero(tree & (line > 0))) > TOUCHING * float(np.count_nonzero(tree))


def _about(tree: Bools, view: View) -> Floats:
    found = about(tree, view)
    return usual(view) if found is None else found


def _overlap(one: Bools, other: Bools) -> float:
    return float(np.count_nonzero(one & other)) / max(float(np.count_nonzero(one | other)), 1.0)


def _tidied(view: View, loop: Floats, trials: Trials | None) -> _Found:
    """One tree of what was cut out: strays go, what hangs below the soil comes in, edges find their place."""
    if trials is None:
        raise FieldError("loop", NO_LOOP)
    tree = trials.tree & ~view.barred
    tree = belonging(tree | (lost_stem(tree, view) & ~view.barred), view)
    if np.count_nonzero(tree) < LEAST_PX:
        raise FieldError("photo", NO_TREE)
    hanging = hanging_growth(tree, view)
    if trials.factor < 0.75:
        tree = half_way(tree, view)
    tree = to_half(view.bgr, tree, _free(view, loop)) | hanging
    small = tuple(_with_hanging(other, hanging) for other in trials.others)
    apart = share_differing((tree * np.uint8(FOLIAGE)).astype(np.uint8), np.array(small, np.uint8))
    return _Found(tree, small, apart, loop, trials.edges)


def _free(view: View, loop: Floats) -> Bools:
    """Inside a loop and above the soil, where something may still change (H, W)."""
    free = (filled(loop, view.barred.shape) > 0) & ~view.barred
    free[view.above :] = False
    return free


def _with_hanging(other: Bools, hanging: Bools) -> Bools:
    size = (other.shape[1], other.shape[0])
    return other | (cv2.resize(hanging.astype(np.float32), size, interpolation=cv2.INTER_AREA) > 0.5)


def _classes_like(classes: Mask, tree: Bools) -> Mask:
    """Classes of another cut-out at its smaller size: as in the careful one, or as the nearest of its pixels."""
    size = (tree.shape[1], tree.shape[0])
    known = resized(classes, size)
    _, labels = cv2.distanceTransformWithLabels(
        (known == 0).astype(np.uint8), cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL
    )
    kinds = np.zeros(int(labels.max()) + 1, np.uint8)
    kinds[labels[known > 0]] = known[known > 0]
    return np.where(tree, kinds[labels], 0).astype(np.uint8)
