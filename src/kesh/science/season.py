"""Which part of the year it is for root work: windows in words, months by hemisphere."""

from datetime import date

from kesh.reference.tables import Species

# Month numbers in a temperate northern climate; a rough guide, the sign on the tree comes first.
WINDOWS: dict[str, tuple[int, ...]] = {
    "late_winter": (2, 3),
    "bud_swell": (3, 4),
    "early_spring": (3, 4),
    "mid_spring": (4, 5),
    "after_flowering": (5, 6),
    "summer_active": (6, 7),
    "late_summer": (8, 9),
    "autumn_ok": (9, 10),
    "leaf_fall": (11,),
}


def local_month(day: date, latitude_deg: float | None) -> int:
    """The month as a northern grower would count it."""
    return day.month if (latitude_deg or 0) >= 0 else (day.month + 5) % 12 + 1


def season_of(species: Species | None, day: date, latitude_deg: float | None) -> str | None:
    """best, edge or wrong for root work; None when the species' window is not known."""
    if species is None or species.repot_window not in WINDOWS:
        return None
    month = local_month(day, latitude_deg)
    best = WINDOWS[species.repot_window]
    if month in best:
        return "best"
    second = WINDOWS.get(species.second_window, ())
    near = {(m - 2) % 12 + 1 for m in best} | {m % 12 + 1 for m in best}
    if month in second or (
        month in near and ((month in (min(best) - 1,) and day.day > 15) or (month == max(best) + 1 and day.day <= 15))
    ):
        return "edge"
    return "wrong"


def window_words(species: Species, latitude_deg: float | None) -> str:
    """The best window with its months, for people."""
    if species.repot_window not in WINDOWS:
        return "not known"
    names = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
    shift = 0 if (latitude_deg or 0) >= 0 else 6
    months = "/".join(names[(m - 1 + shift) % 12] for m in WINDOWS[species.repot_window])
    return f"{species.repot_window.replace('_', ' ')}, about {months}"
