"""What must lie ready before the tree is lifted, against what there is, and what stops the work."""

from dataclasses import dataclass

from kesh.advice.assess import Assessment, Finding
from kesh.advice.planting.cut_list import CutList
from kesh.advice.planting.soil_batch import Batch, shortage
from kesh.advice.roots.work import tools
from kesh.base.units import Units

# what must be read and taken on before root work begins, where it says no
STOPS = ("root_removal", "season", "before_lift", "graft", "drain_holes", "record", "bare_root")


@dataclass(frozen=True)
class Ready:
    """One thing that must lie there: how much of it, in its unit, and how much there is (None: nobody said)."""

    key: str
    words: str
    need: float | None = None
    unit: str = ""
    have: float | None = None

    @property
    def missing(self) -> float:
        """How much has to be got."""
        return 0.0 if self.need is None or self.have is None else max(self.need - self.have, 0.0)

    @property
    def status(self) -> str:
        """Whether what there is reaches: fits, watch or no; fits too where nobody said, or nothing is counted."""
        if self.need is None or self.have is None:
            return "fits"
        return shortage(self.need, self.have, soil=self.unit == "l")

    @property
    def short_words(self) -> str:
        """How much of it is to be got, in words."""
        return f"{self.words}: {_amount(self.missing, 10.0, self.unit)} short"

    @property
    def need_words(self) -> str:
        """How much of it is needed; empty where it is not counted."""
        return "" if self.need is None else _amount(self.need, 20.0 if self.unit else 0.0, self.unit)


def _amount(value: float, whole_from: float, unit: str) -> str:
    return f"{value:{'.0f' if value >= whole_from else '.2f'}} {unit}".strip()


def wire_key(metal: str, gauge_mm: float) -> str:
    """The stock's key of a wire."""
    return f"wire-{metal}-{gauge_mm:g}"


def ready_list(a: Assessment, cuts: CutList | None, batch: Batch | None, u: Units) -> tuple[Ready, ...]:
    """Wire by gauge, mesh, soil by component, then tools and what keeps roots wet."""
    stock, found = a.case.stock, []

    def have(key: str) -> float | None:
        return stock[key].have if key in stock else None

    if cuts is not None:
        for (metal, gauge), metres in sorted(cuts.totals_m().items(), key=lambda kv: -kv[0][1]):
            key = wire_key(metal, gauge)
            spare = cuts.spare_mm / 1000 if any((w.metal, w.gauge_mm) == (metal, gauge) for w in cuts.ties) else 0.0
            found.append(
                Ready(key, f"{metal.capitalize()} wire {gauge:g} mm, one spare", metres + spare, "m", have(key))
            )
        if cuts.screens:
            key = f"mesh-{cuts.mesh_mm:g}"
            found.append(Ready(key, f"Mesh {cuts.mesh_mm:g} mm", cuts.mesh_cm2, "cm²", have(key)))
        found += (
            [Ready("rods", f"Bamboo rods {cuts.rods[0].diameter_mm:.0f} mm", float(len(cuts.rods)), "", have("rods"))]
            if cuts.rods
            else []
        )
        if cuts.plan is not None and cuts.plan.stones:
            found.append(
                Ready(
                    "stones",
                    f"Stones of {u.kg(cuts.plan.stones[0].mass_kg)}",
                    float(len(cuts.plan.stones)),
                    "",
                    have("stones"),
                )
            )
    if batch is not None:
        found += [Ready(line.key, f"{line.name}, {line.grains}", line.litres, "l", line.have_l) for line in batch.lines]
    feed = a.case.brief.planting_views.feed
    if feed != "later":
        found.append(Ready("feed", "Feed", None, "", have("feed")))
    found += [
        Ready(f"tool-{n}", tool.capitalize())
        for n, tool in enumerate((*tools(a.figures), "pliers and wire cutter", "label and front marker"))
    ]
    return tuple(found)


def stops(a: Assessment) -> tuple[Finding, ...]:
    """Findings that stop the work until somebody has read them and takes them on."""
    return tuple(f for f in a.findings if f.status == "no" and f.code in STOPS)
