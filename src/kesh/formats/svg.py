"""A drawing as SVG in true millimetres: opened at 100 % it is as large as the thing."""

from html import escape

from kesh.figure.drawing import LAYERS, Circle, Dim, Drawing, Line, Words

MARGIN = 8.0
STYLE = {
    "outline": "stroke:#1d1a16;stroke-width:.5", "inside": "stroke:#1d1a16;stroke-width:.35",
    "section": "stroke:#1d1a16;stroke-width:.5;fill:#ecd9cf", "hidden": "stroke:#6b6459;stroke-width:.25;stroke-dasharray:3 2",
    "holes": "stroke:#8f2f22;stroke-width:.4", "tie_holes": "stroke:#2f4a7a;stroke-width:.4",
    "centre": "stroke:#6b6459;stroke-width:.18;stroke-dasharray:6 1.5 1 1.5", "dimensions": "stroke:#1d1a16;stroke-width:.2",
    "text": "", "cut": "stroke:#8f2f22;stroke-width:.4;stroke-dasharray:2 1", "marks": "stroke:#1d1a16;stroke-width:.2",
}  # fmt: skip


def svg(drawing: Drawing) -> str:
    """The drawing as an SVG document."""
    left, bottom, right, top = drawing.bounds()
    left, bottom, right, top = left - MARGIN, bottom - MARGIN, right + MARGIN, top + MARGIN
    wide, high = right - left, top - bottom

    def at(x: float, y: float) -> str:
        return f"{x - left:.3f},{top - y:.3f}"

    layers: dict[str, list[str]] = {name: [] for name in LAYERS}
    for item in drawing.items:
        if isinstance(item, Line):
            tag = "polygon" if item.closed else "polyline"
            points = " ".join(at(float(x), float(y)) for x, y in item.points)
            layers[item.layer].append(f'<{tag} points="{points}"/>')
        elif isinstance(item, Circle):
            x, y = at(item.x, item.y).split(",")
            layers[item.layer].append(f'<circle cx="{x}" cy="{y}" r="{item.radius:.3f}"/>')
        elif isinstance(item, Words):
            layers[item.layer].append(_text(item.text, at(item.x, item.y), item.size, item.align))
        else:
            layers["dimensions"].append(_dimension(item, at))
    body = "\n".join(
        f'<g id="{name}" style="fill:none;{STYLE[name]}">\n' + "\n".join(parts) + "\n</g>"
        for name, parts in layers.items()
        if parts
    )
    return (
        f'<?xml version="1.0" encoding="UTF-8"?>\n<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.3f}mm" '
        f'height="{high:.3f}mm" viewBox="0 0 {wide:.3f} {high:.3f}">\n<title>{escape(drawing.title)}</title>\n{body}\n</svg>\n'
    )


def _text(text: str, at: str, size: float, align: str, turn: bool = False) -> str:
    x, y = at.split(",")
    anchor = {"left": "start", "center": "middle", "right": "end"}[align]
    spin = f' transform="rotate(-90 {x} {y})"' if turn else ""
    return (
        f'<text x="{x}" y="{y}" text-anchor="{anchor}"{spin} '
        f'style="font:{size / 0.7:.2f}px sans-serif;fill:#1d1a16;stroke:none">{escape(text)}</text>'
    )


def _dimension(d: Dim, at) -> str:  # type: ignore[no-untyped-def]
    """Extension lines, the line with oblique ends, the figure."""
    ends, line = ((d.ax, d.ay), (d.bx, d.by)), d.ends
    parts = [f'<polyline points="{at(*e)} {at(*p)}"/>' for e, p in zip(ends, line, strict=True)]
    parts.append(f'<polyline points="{at(*line[0])} {at(*line[1])}"/>')
    tick = d.tick
    parts += [f'<polyline points="{at(x - tick, y - tick)} {at(x + tick, y + tick)}"/>' for x, y in line]
    mx, my = (line[0][0] + line[1][0]) / 2, (line[0][1] + line[1][1]) / 2
    if d.beside and not d.level:
        where = at(mx + d.outward * 1.6 * tick, my + d.lift_mm - 0.5 * d.size)
        parts.append(_text(d.text, where, d.size, "left" if d.outward > 0 else "right"))
        return "\n".join(parts)
    where = at(mx, my + tick) if d.level else at(mx - tick, my)
    parts.append(_text(d.text, where, d.size, "center", turn=not d.level))
    return "\n".join(parts)
