"""A drawing as DXF (R2010, millimetres): one layer for each kind of line, true dimension entities. ezdxf does the format."""

import io

from kesh.figure.drawing import Circle, Drawing, Line, Words

# layer: (colour index, line type, weight in 1/100 mm)
LOOK = {
    "outline": (7, "CONTINUOUS", 50), "inside": (7, "CONTINUOUS", 35), "section": (30, "CONTINUOUS", 50),
    "hidden": (8, "DASHED", 25), "holes": (1, "CONTINUOUS", 35), "tie_holes": (5, "CONTINUOUS", 35),
    "centre": (8, "CENTER", 18), "dimensions": (3, "CONTINUOUS", 18), "text": (7, "CONTINUOUS", 25),
    "cut": (1, "DASHED", 35), "marks": (8, "CONTINUOUS", 18),
}  # fmt: skip
ALIGN = {"left": "LEFT", "center": "CENTER", "right": "RIGHT"}


def dxf(drawing: Drawing) -> str:
    """The drawing as a DXF document."""
    from ezdxf import units
    from ezdxf.enums import TextEntityAlignment
    from ezdxf.filemanagement import new

    doc = new("R2010", setup=True)
    doc.units = units.MM
    doc.header["$MEASUREMENT"] = 1
    for name, (colour, kind, weight) in LOOK.items():
        doc.layers.add(name.upper(), color=colour, linetype=kind, lineweight=weight)
    space = doc.modelspace()
    for item in drawing.items:
        if isinstance(item, Line):
            points = [(float(x), float(y)) for x, y in item.points]
            space.add_lwpolyline(points, close=item.closed, dxfattribs={"layer": item.layer.upper()})
            if item.hatched:
                hatch = space.add_hatch(color=30, dxfattribs={"layer": item.layer.upper()})
                hatch.set_pattern_fill("ANSI31", scale=0.8)
                hatch.paths.add_polyline_path(points, is_closed=True)
        elif isinstance(item, Circle):
            space.add_circle((item.x, item.y), item.radius, dxfattribs={"layer": item.layer.upper()})
        elif isinstance(item, Words):
            text = space.add_text(item.text, height=item.size, dxfattribs={"layer": item.layer.upper()})
            text.set_placement((item.x, item.y), align=TextEntityAlignment[ALIGN[item.align]])
        else:
            base = item.ends[0]
            made = space.add_linear_dim(
                base=base, p1=(item.ax, item.ay), p2=(item.bx, item.by), angle=0 if item.level else 90,
                text=f"{item.prefix}<>{item.suffix}" if item.prefix or item.suffix else "<>",
                override={"dimtxt": item.size, "dimasz": 0.7 * item.size, "dimexo": 1.0, "dimexe": 1.5, "dimdec": 1, "dimzin": 8, "dimscale": 1.0,
                          "dimlfac": 1.0, "dimclrd": 3},
                dxfattribs={"layer": "DIMENSIONS"},
            )  # fmt: skip
            made.render()
    out = io.StringIO()
    doc.write(out)
    return out.getvalue()
