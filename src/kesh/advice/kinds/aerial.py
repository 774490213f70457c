"""An aerial root led down to the soil: its length, its guide, its drawing and its stages."""

from kesh.advice.kinds.kind import FieldRow, Grip, Kind
from kesh.advice.kinds.kinds import KindRow
from kesh.advice.kinds.plan import Figure, Setting, SpecialCut, SpecialPlan, Stage, care, finding, months, nothing_yet
from kesh.advice.planting.steps.step import PLAIN, WorkStep, behind
from kesh.figure.overlay import Area, Overlay, Shape, Size, Stroke, oval
from kesh.model import Aerial, Planting
from kesh.science.season.days import later
from kesh.science.special.shared import aerial_guide


def leaves_mm(s: Setting, row: Aerial) -> float:
    """Where it leaves the trunk in the front view, mm from the pot's middle."""
    side = 1 if row.out_mm >= 0 else -1
    return s.planting.offset_x_mm + side * (s.a.case.tree.measure.trunk_diameter_mm or 30.0) * 0.4


def aerial(s: Setting) -> SpecialPlan:
    """The plan of an aerial root."""
    row, u = s.planting.aerial, s.u
    if row is None:
        return nothing_yet(
            "aerial",
            "No aerial root yet",
            "aerial",
            "Nothing of the aerial root is entered yet.",
            "Say how high it leaves the trunk and how long it is.",
        )
    guide = aerial_guide(row.from_mm, row.out_mm, row.length_mm)
    found = []
    if row.length_mm is None:
        found.append(
            finding("aerial_length", "unknown", "How long it is is not known.", "Measure from the trunk to its tip.")
        )
    else:
        status = "fits" if guide.to_grow_mm <= 0 else "watch"
        found.append(
            finding(
                "aerial_length",
                status,
                f"It is {u.mm(row.length_mm)} long, {u.mm(guide.length_mm)} reach 30 mm into the soil.",
                "" if status == "fits" else f"It has {u.mm(guide.to_grow_mm)} to grow: keep it moist in its guide.",
                row.length_mm,
                "mm",
                guide.length_mm,
            )
        )
    plumb = abs(row.out_mm) <= 0.35 * row.from_mm
    found.append(
        finding(
            "aerial_plumb",
            "fits" if plumb else "watch",
            f"It comes down {u.mm(abs(row.out_mm))} beside the place it leaves.",
            "" if plumb else "Lead it straighter: a slanting one looks like a guy.",
            row.out_mm,
            "mm",
        )
    )
    inside = max(2.0 * row.diameter_mm, row.diameter_mm + 4)
    what = {
        "straw": "drinking straw, slit along its length",
        "split_tube": "split tube, closed with wire",
        "none": "no guide: damp moss",
    }[row.guide]
    cuts = (
        (SpecialCut("guide", what, guide.length_mm, (), inside, "", 1, "filled with the mix, kept moist"),)
        if row.guide != "none"
        else ()
    )
    start = row.since or s.day
    stages = (
        Stage("Led down", start, months(start), "in its guide", Overlay(_aerial_front(s, 0))),
        Stage("In the soil", later(start, 365), "white tips at the foot", "guide stays", Overlay(_aerial_front(s, 1))),
        Stage("Straightened", later(start, 2 * 365), "as thick as a pencil", "guide off", Overlay(_aerial_front(s, 2))),
        Stage("Root base", later(start, 3 * 365), "roots of its own", "shortened", Overlay(_aerial_front(s, 3))),
    )  # fmt: skip
    after = (
        care("misting", 0, 120, "Mist the guide every day in growth.", "It has reached the soil."),
        care(
            "look_closer",
            365,
            400,
            "Look whether it has rooted; straighten it while it still bends.",
            "It has thickened.",
        ),
    )
    figures = (Figure("Guide", u.mm(guide.length_mm)), Figure("Still to grow", u.mm(guide.to_grow_mm)))
    return SpecialPlan("aerial", f"{u.mm(guide.to_grow_mm)} to the soil" if guide.to_grow_mm > 0 else "It reaches the soil", figures, tuple(found), cuts, stages, Overlay(_aerial_front(s, 0, dims=True)), Overlay(), after)  # fmt: skip


def _steps(s: Setting) -> tuple[WorkStep, ...]:
    row = s.planting.aerial or Aerial()
    how = {"straw": "a straw", "split_tube": "a split tube", "none": "damp moss, without a guide"}[row.guide]
    return (
        WorkStep("guard", "guard", "Wrap the aerial root in wet moss", lines=("It dries first and breaks easily: bend it up and tie it to the trunk while you work.",), minutes=3.0),
        WorkStep("guide", "guide", f"Lead the aerial root down in {how}", lines=("Filled with the mix; a stone at its foot keeps it plumb.",), minutes=8.0),
    )  # fmt: skip


def _aerial_front(s: Setting, age: int, *, dims: bool = False) -> tuple[Shape, ...]:
    row = s.planting.aerial
    assert row is not None
    side = 1 if row.out_mm >= 0 else -1
    start = (leaves_mm(s, row), s.soil_mm + row.from_mm)
    end = (start[0] + row.out_mm, s.soil_mm - 24)
    bend = 0.0 if age >= 2 else 0.12 * row.from_mm
    middle = ((start[0] + end[0]) / 2 + side * bend, (start[1] + end[1]) / 2)
    thick = row.diameter_mm * (1 + 0.6 * age)
    shapes: list[Shape] = []
    if row.guide != "none" and age < 2:
        shapes.append(Stroke((start, middle, end), "tube", max(2 * row.diameter_mm, row.diameter_mm + 4) + 3))
    shapes.append(
        Stroke(
            (start, middle, end),
            "root",
            thick,
            dashed=age == 0 and row.length_mm is not None and row.length_mm < row.from_mm,
        )
    )
    shapes.append(Area(oval(end[0], s.soil_mm + 4, 14, 8), "rock"))
    if age >= 1:
        for k in range(4):
            shapes.append(Stroke((end, (end[0] + (k - 1.5) * 12, end[1] - 16)), "root", 1.6))
    if dims:
        shapes.append(
            Size(
                (start[0] + side * 26, s.soil_mm),
                (start[0] + side * 26, start[1]),
                s.u.figure(row.from_mm),
                16.0 * side,
                level=False,
            )
        )
    return tuple(shapes)


def _grips(s: Setting) -> list[Grip]:
    row = s.planting.aerial
    if row is None:
        return []
    start = leaves_mm(s, row)
    return [
        Grip("aerial:from", "Where it leaves", "front", start, s.soil_mm + row.from_mm),
        Grip("aerial:out", "Where it lands", "front", start + row.out_mm, s.soil_mm),
    ]


def _pull(s: Setting, what: str, rest: list[str], x_mm: float, y_mm: float) -> Planting:
    p = s.planting
    assert p.aerial is not None
    if what == "from":
        return p.changed(aerial=p.aerial.changed(from_mm=round(max(y_mm - s.soil_mm, 5.0), 1)))
    return p.changed(aerial=p.aerial.changed(out_mm=round(x_mm - leaves_mm(s, p.aerial), 1)))


ORDER = ("guard", *behind(PLAIN, "fill", "guide"))
KIND = Kind(
    KindRow("aerial", 12, "Aerial root", "A root is led from the trunk to the soil by a straw or a split tube, straightened once it has thickened.", field="aerial", styles=("banyan",)),
    fields=(
        FieldRow("from_mm", "Leaves at", "mm", "Over the soil", blank=False), FieldRow("out_mm", "Lands beside", "mm", "To the right of the place it leaves", blank=False),
        FieldRow("length_mm", "Length now", "mm"), FieldRow("diameter_mm", "Thick", "mm", blank=False), FieldRow("since", "Since", "date"),
        FieldRow("guide", "Guide", "choice", options=(("straw", "slit straw"), ("split_tube", "split tube"), ("none", "none"))),
    ),
    make=aerial,
    order=ORDER,
    steps=_steps,
    start=lambda tree, pot: Aerial(),
    grips=_grips,
    pull=_pull,
)  # fmt: skip
