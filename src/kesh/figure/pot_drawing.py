"""Dimensioned views of a pot for whoever makes it: plan with holes, section from the front and from the side, underside."""

import numpy as np

from kesh.figure.drawing import Circle, Dim, Drawing, Floats, Item, Line, Words, lettered, moved
from kesh.geometry.columns import columns
from kesh.geometry.feet import base_ring, foot_plans
from kesh.geometry.outline import outline_points
from kesh.geometry.overall import overall_words
from kesh.geometry.profile import inset_mm
from kesh.geometry.relief import band_spans, outer_inset_mm, over_bands_mm, relief_shares
from kesh.model.pot import Pot

GAP, OFF, STEP, SIZE = 24.0, 7.5, 6.0, 3.0
LEVELS = 48


def wall_curves(pot: Pot, half_rim: float) -> tuple[Floats, Floats]:
    """(outer, inner) right-hand wall lines (n, 2) from the bench side up, for a half size at the rim."""
    cols = columns([pot])
    u = np.unique(np.concatenate([np.linspace(0, 1, LEVELS), cols.kinks[0]]))
    inset = inset_mm(cols, u[None, :])[0]
    y = pot.feet_mm + u * pot.body_height_mm
    floor = pot.feet_mm + pot.floor_mm
    banded = np.unique(np.concatenate([u, relief_shares(pot)]))
    outer = np.column_stack([half_rim - outer_inset_mm(pot, banded), pot.feet_mm + banded * pot.body_height_mm])
    up = y > floor + 1e-9
    at_floor = half_rim - float(np.interp(floor, y, inset)) - pot.wall_mm
    inner = np.vstack([[at_floor, floor], np.column_stack([half_rim - inset[up] - pot.wall_mm, y[up]])])
    return outer, inner


def _gaps(pot: Pot, along_x: bool) -> list[tuple[float, float]]:
    """Where the cut through the middle meets holes."""
    found = []
    for hole in pot.holes:
        across, at = (hole.y_mm, hole.x_mm) if along_x else (hole.x_mm, hole.y_mm)
        r = hole.diameter_mm / 2
        if abs(across) < r:
            half = float(np.sqrt(r**2 - across**2))
            found.append((at - half, at + half))
    return sorted(found)


def section(pot: Pot, *, along_x: bool = True, k: float = 1.0) -> tuple[Item, ...]:
    """Cut through the middle, seen from the front or from the right, standing on y = 0, with inside and outside sizes."""
    half = (pot.length_mm if along_x else pot.width_mm) / 2
    outer, inner = wall_curves(pot, half)
    mirror = np.array([-1.0, 1.0])
    items: list[Item] = []
    if pot.profile.kind == "slab":
        ring = np.vstack([outer, outer[::-1] * mirror])
        items.append(Line(ring, "section", closed=True, hatched=True))
    else:
        low, floor = pot.feet_mm, pot.feet_mm + pot.floor_mm
        edges = [-inner[0, 0], *(x for gap in _gaps(pot, along_x) for x in gap), inner[0, 0]]
        for n in range(0, len(edges), 2):
            left, right = edges[n], edges[n + 1]
            first, last = n == 0, n + 2 >= len(edges)
            piece = [*(outer * mirror), *(inner[::-1] * mirror)] if first else [[left, low], [left, floor]]
            piece += [*inner, *outer[::-1]] if last else [[right, floor], [right, low]]
            items.append(Line(np.array(piece), "section", closed=True, hatched=True))
    for plan in foot_plans(pot):
        x0, y0, x1, y1 = plan.bounds
        a, b = (x0, x1) if along_x else (y0, y1)
        items.append(Line(np.array([[a, 0], [b, 0], [b, pot.feet_mm], [a, pot.feet_mm]]), "hidden", closed=True))
    items.append(Line(np.array([[0, -6], [0, pot.height_mm + 8]]), "centre"))
    wide, over = float(outer[:, 0].max()), over_bands_mm(pot) > 0.05
    off, step, size = OFF * k, STEP * k, SIZE * k

    def dim(
        ax: float, ay: float, bx: float, by: float, away: float, *, level: bool = True, beside: bool = False, lift_mm: float = 0.0,
        prefix: str = "", suffix: str = "",
    ) -> None:  # fmt: skip
        items.append(Dim(ax, ay, bx, by, away, level, prefix, suffix, size, beside, lift_mm))

    dim(-half, pot.height_mm, half, pot.height_mm, off + step)
    dim(-float(outer[0, 0]), 0, float(outer[0, 0]), 0, -off, suffix=" base")
    dim(wide, 0, wide, pot.height_mm, off, level=False)
    if pot.profile.kind != "slab":
        top, mouth = pot.height_mm, float(inner[-1, 0])
        dim(-mouth, top, mouth, top, off, suffix=" inside")
        dim(-float(inner[0, 0]), 0, float(inner[0, 0]), 0, -off - step, suffix=" inside floor")
        dim(-wide, floor, -wide, top, -off, level=False, beside=True, suffix=" inside")
        # over all others, where nothing crosses its words
        dim(half - pot.wall_mm, top, half, top, off + (2 + over) * step, prefix="wall ")
        # through the floor, its figure in the hollow above, where there is room
        at = -0.62 * float(inner[0, 0])
        at = next(
            (x for x in (at, -at, 0.3 * at, 0.0) if all(not a - size < x < b + size for a, b in _gaps(pot, along_x))),
            at,
        )
        dim(at, low, at, floor, 0.0, level=False, beside=True, lift_mm=pot.floor_mm / 2 + size, prefix="floor ")
    if pot.feet_mm > 0:
        # in the same column as the inner depth: the one stands over the other
        dim(-wide, 0, -wide, pot.feet_mm, -off, level=False, beside=True, prefix="feet ")
    if over:
        dim(-wide, pot.height_mm, wide, pot.height_mm, off + 2 * step, suffix=" over bands")
    for low_mm, high_mm, _ in band_spans(pot):
        if high_mm < pot.body_height_mm - 0.5:
            middle = pot.feet_mm + (low_mm + high_mm) / 2
            dim(wide, 0, wide, middle, off + 2 * step, level=False, prefix="belt ")
    return tuple(items)


def plan(pot: Pot, *, table: bool = True, k: float = 1.0, factor: float = 1.0) -> tuple[Item, ...]:
    """From above, front at the foot: rim, inside, base and feet hidden, holes with their centres measured from the middle.

    The drawing is at fired size; what is said in words is said for sizes times the factor.
    """
    outer = outline_points(pot.outline, pot.length_mm, pot.width_mm, 0.0, 240)
    items: list[Item] = [Line(outer, "outline", closed=True)]
    if pot.profile.kind != "slab":
        items.append(
            Line(outline_points(pot.outline, pot.length_mm, pot.width_mm, pot.wall_mm, 240), "inside", closed=True)
        )
    over = over_bands_mm(pot)
    if over > 0.05:
        items.append(Line(outline_points(pot.outline, pot.length_mm, pot.width_mm, -over, 240), "outline", closed=True))
    items.append(Line(base_ring(pot), "hidden", closed=True))
    items += [Line(np.asarray(p.exterior.coords)[:-1], "hidden", closed=True) for p in foot_plans(pot)]
    half_l, half_w = pot.length_mm / 2, pot.width_mm / 2
    items += [
        Line(np.array([[-half_l - 8, 0], [half_l + 8, 0]]), "centre"),
        Line(np.array([[0, -half_w - 8], [0, half_w + 8]]), "centre"),
    ]
    items += holes(pot, k)
    x0, y0, x1, y1 = outer[:, 0].min(), outer[:, 1].min(), outer[:, 0].max(), outer[:, 1].max()
    size = SIZE * k
    items += [Dim(x0, y1, x1, y1, OFF * k, size=size), Dim(x1, y0, x1, y1, OFF * k, level=False, size=size)]
    if pot.outline.kind == "rectangle" and pot.outline.corner_mm > 0:
        items.append(Words(f"corner R{round(pot.outline.corner_mm * factor, 1):g}", x1, y0 - 1.8 * size, size, "right"))
    items.append(Words("front", 0, y0 - 1.8 * size, size, "center"))
    if over_all := overall_words(pot, factor):
        stated = " × ".join(f"{round(mm * factor, 1):g}" for mm in (pot.length_mm, pot.width_mm))
        items.append(Words(f"{stated} stated at the rim, {over_all}", x0, y1 + (OFF + 4) * k, size))
    if table:
        for n, line in enumerate(hole_table(pot, factor)):
            items.append(Words(line, x0, y0 - (4 + 2 * n) * size, size))
    return tuple(items)


def letters(number: int) -> str:
    """A, B, ... Z, then AA, AB, ...: the name of the nth thing from nought on."""
    word = ""
    n = number + 1
    while n:
        n, rest = divmod(n - 1, 26)
        word = chr(65 + rest) + word
    return word


def holes(pot: Pot, k: float = 1.0) -> list[Item]:
    """Every hole with its centre cross and letter."""
    items: list[Item] = []
    for n, hole in enumerate(pot.holes):
        r = hole.diameter_mm / 2
        layer = "holes" if hole.drains else "tie_holes"
        items.append(Circle(hole.x_mm, hole.y_mm, r, layer))
        for dx, dy in ((r + 3, 0), (0, r + 3)):
            items.append(Line(np.array([[hole.x_mm - dx, hole.y_mm - dy], [hole.x_mm + dx, hole.y_mm + dy]]), "centre"))
        items.append(Words(letters(n), hole.x_mm + r + 1.5 * k, hole.y_mm + 1.0 * k, SIZE * k))
    return items


def hole_rows(pot: Pot, factor: float = 1.0) -> tuple[tuple[str, str], ...]:
    """Each hole as its letter and its words: purpose, diameter, place from the middle, all times a factor (wet clay)."""
    return tuple(
        (
            letters(k),
            f"{'drain' if h.drains else 'tie'} Ø {round(h.diameter_mm * factor, 1):g}   "
            f"{abs(h.x_mm * factor):.1f} {'right' if h.x_mm >= 0 else 'left'}, "
            f"{abs(h.y_mm * factor):.1f} {'back' if h.y_mm >= 0 else 'front'}",
        )
        for k, h in enumerate(pot.holes)
    )


def hole_table(pot: Pot, factor: float = 1.0) -> tuple[str, ...]:
    """Each hole in words, one line each."""
    return tuple(f"{name}  {told}" for name, told in hole_rows(pot, factor))


def same(one: tuple[Item, ...], other: tuple[Item, ...]) -> bool:
    """Whether two views show the same, so that one of them does for both."""
    if len(one) != len(other):
        return False
    for a, b in zip(one, other, strict=True):
        if isinstance(a, Line) and isinstance(b, Line):
            if a.points.shape != b.points.shape or not np.allclose(a.points, b.points, atol=0.05):
                return False
        elif a != b and not (isinstance(a, Dim) and isinstance(b, Dim) and a.text == b.text):
            return False
    return True


def pot_drawing(pot: Pot, title: str, factor: float = 1.0, notes: tuple[str, ...] = ()) -> Drawing:
    """Front section, side section and plan on one sheet, all sizes times a factor (wet clay)."""
    k = lettered(pot.length_mm + pot.width_mm)
    half_l, half_w = pot.length_mm / 2, pot.width_mm / 2
    side_x, down = half_l + half_w + 2 * GAP * k, -half_w - 2 * GAP * k
    head, title_mm = pot.height_mm + (OFF + (3 if pot.bands else 2) * STEP + 6) * k, 4.0 * k
    front, side = section(pot, k=k), section(pot, along_x=False, k=k)
    twice = not same(front, side)
    items = [
        *front,
        *(moved(side, side_x, 0) if twice else ()),
        *moved(plan(pot, k=k, factor=factor), 0, down),
        Words(
            "Section from the front" if twice else "Section, from the front and from the right alike",
            -half_l,
            head,
            title_mm,
        ),
        *([Words("Section from the right", side_x - half_w, head, title_mm)] if twice else []),
        Words("From above", -half_l, down + half_w + (OFF + 6) * k, title_mm),
    ]
    drawing = Drawing(title, tuple(items), notes)
    return drawing if factor == 1 else drawing.scaled(factor)
