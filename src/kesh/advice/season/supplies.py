"""What the jobs of some weeks need against what lies in the shed: soil by component, wire by gauge, mesh. From each tree's own plan."""

from collections.abc import Iterable
from dataclasses import dataclass

from kesh.advice.assess import assess
from kesh.advice.case import case_for, season_planned
from kesh.advice.planting.plan import PlantingPlan
from kesh.advice.planting.rehearsal import Ready
from kesh.advice.planting.soil_batch import shortage
from kesh.advice.season.book import Book
from kesh.advice.season.weekends import Job
from kesh.base.errors import KeshError
from kesh.base.progress import Progress
from kesh.base.status import gravity
from kesh.base.units import Units

NEARLY = 1.2


@dataclass(frozen=True)
class Supply:
    """One thing: how much the jobs need, how much there is (None: nobody said), and which trees need it."""

    key: str
    words: str
    need: float
    have: float | None
    unit: str
    trees: tuple[str, ...]

    @property
    def short(self) -> float:
        """What is missing; nought where there is enough, or nobody said what there is."""
        return max(self.need - self.have, 0.0) if self.have is not None else 0.0

    @property
    def status(self) -> str:
        """fits, watch (less than a fifth over, or short by a hair), no, or unknown."""
        if self.have is None:
            return "unknown"
        told = shortage(self.need, self.have, soil=self.unit == "l")
        return "watch" if told == "fits" and self.have < NEARLY * self.need else told


def ready_of(book: Book, tree: str, pot: str) -> tuple[Ready, ...]:
    """What one repotting needs, as its own plan tells it; nothing where that cannot be reckoned."""
    key = f"ready/{tree}/{pot}"
    if key not in book.kept:
        try:
            a = assess(
                case_for(book.c, tree, pot_id=pot, on=book.today, season=season_planned(book.c, tree)), book.c.pots[pot]
            )
            book.kept[key] = () if a.fault else PlantingPlan(a, Units()).ready
        except KeshError:
            book.kept[key] = ()
    found = book.kept[key]
    return found if isinstance(found, tuple) else ()


def supplies(book: Book, rows: Iterable[Job], progress: Progress | None = None) -> tuple[Supply, ...]:
    """All that the repottings among the jobs need, the shortest first."""
    work = [j for j in rows if j.task.kind == "repot"]
    need: dict[str, list[tuple[str, Ready]]] = {}
    for n, job in enumerate(work):
        if progress is not None:
            progress.at(n / len(work))
        pot = job.task.pot or book.target(job.task.tree)
        for one in ready_of(book, job.task.tree, pot) if pot in book.c.pots and pot is not None else ():
            if one.need is not None and one.need > 0 and one.unit:
                need.setdefault(one.key, []).append((job.task.tree, one))
    found = []
    for key, parts in need.items():
        one, held = parts[0][1], book.c.stock.get(key)
        total = sum(part.need or 0.0 for _, part in parts)
        plain = one.words if one.unit == "l" else one.words.split(",")[0]
        words = held.item if held is not None and held.item else plain
        found.append(
            Supply(key, words, total, held.have if held is not None else None, one.unit, tuple(t for t, _ in parts))
        )
    return tuple(sorted(found, key=lambda s: (gravity(s.status), s.unit != "l", -s.need, s.key)))
