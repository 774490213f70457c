"""Every kind of task in words: what it is called, how it is drawn, how long it takes where nobody has timed it [J]."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

# work is a day's job in a window; care is a state that is kept; feed, look and cover are told apart in the chart
Sort = Literal["work", "care", "feed", "look", "cover"]


@dataclass(frozen=True)
class TaskKind:
    """`words` begin a sentence; `short` stands in a bar; `minutes` of a day's work; `strain` what it costs the tree."""

    words: str
    sort: Sort
    short: str = ""
    minutes: float = 0.0
    strain: float = 0.0


TASK_KINDS: Mapping[str, TaskKind] = {
    "repot": TaskKind("Repot", "work", "repot", 150.0),
    "root_stage": TaskKind("Next stage of the roots", "work", "roots", 0.0),
    "prune": TaskKind("Prune", "work", "prune", 45.0, 0.10),
    "wire": TaskKind("Wire", "work", "wire", 120.0, 0.15),
    "bend": TaskKind("Bend a branch", "work", "bend", 60.0, 0.15),
    "defoliate": TaskKind("Take leaves off", "work", "leaves off", 60.0, 0.30),
    "pinch": TaskKind("Pinch", "work", "pinch", 20.0, 0.0),
    "unwire": TaskKind("Take wire off", "work", "wire off", 30.0),
    "separate_graft": TaskKind("Cut the graft free", "work", "graft free", 20.0, 0.10),
    "leave_interim": TaskKind("Out of the interim pot", "work", "swap pot", 45.0),
    "inspect_new": TaskKind("Look a new tree over", "work", "look over", 45.0),
    "lower_soil": TaskKind("Lower the soil in the tube", "work", "lower soil", 15.0),
    "take_off_ties": TaskKind("Take a tie off", "work", "tie off", 10.0),
    "take_off_branch": TaskKind("Take a branch's guy off", "work", "branch guy off", 10.0),
    "take_off_holding": TaskKind("Take guys or stones off", "work", "guys off", 10.0),
    "remove_ties": TaskKind("Draw the ties out", "look", "ties out", 10.0),
    "bring_in": TaskKind("Bring it in", "cover", "in", 10.0, 0.10),
    "bring_out": TaskKind("Take it out", "cover", "out", 10.0, 0.10),
    "shelter_rain": TaskKind("Shelter from rain", "cover", "no rain"),
    "shade_heat": TaskKind("Shade from heat", "cover", "shade"),
    "frost_cover": TaskKind("Cover from frost", "cover", "frost"),
    "open_rain": TaskKind("Out of the rain shelter", "cover", "rain over"),
    "open_heat": TaskKind("Out of the shade", "cover", "heat over"),
    "uncover": TaskKind("Take the cover off", "cover", "uncover"),
    "order_due": TaskKind("A pot is promised", "look", "pot due"),
    "look_closer": TaskKind("Look closer", "look", "look closer"),
    "round": TaskKind("Round", "look", "round"),
    "look": TaskKind("Look again", "look", "look"),
    "photograph": TaskKind("Photograph", "look", "photograph"),
    "put_back": TaskKind("Put things back", "look", "put back", 5.0),
    "feed": TaskKind("Feed", "feed", "feed"),
    "first_watering": TaskKind("First watering", "care", "water"),
    "keep_still": TaskKind("Keep still", "care", "still"),
    "check_ties": TaskKind("Check the ties", "look", "ties"),
    "wind_shelter": TaskKind("Shelter from wind", "care", "no wind"),
    "shade": TaskKind("Shade", "care", "shade"),
    "misting": TaskKind("Mist", "care", "mist"),
    "water_rhythm": TaskKind("Find the water rhythm", "care", "water"),
    "frost_protection": TaskKind("Keep frost off", "care", "no frost"),
    "rot_check": TaskKind("Look for rot", "look", "rot?"),
    "growth_sign": TaskKind("Look for growth", "look", "growth?"),
    "no_fertiliser": TaskKind("No feed", "care", "no feed"),
    "first_feed": TaskKind("First feed", "feed", "first feed"),
    "full_sun": TaskKind("Back to full sun", "care", "to full sun"),
    "no_wiring": TaskKind("No wiring", "care", "no wire"),
    "no_pruning": TaskKind("No pruning", "care", "no cut"),
    "remoss": TaskKind("Moss", "look", "moss", 15.0),
    "root_tonic": TaskKind("Root tonic", "care", "tonic"),
    "bottom_warmth": TaskKind("Warmth from below", "care", "warm base"),
}
# what a user adds by hand, in the order of the list
BY_HAND = (
    "repot",
    "prune",
    "wire",
    "bend",
    "defoliate",
    "pinch",
    "unwire",
    "separate_graft",
    "look",
    "photograph",
    "put_back",
    "feed",
)
# steps of aftercare that wait for growth: cold days do not run their clock
WAITS_FOR_GROWTH = frozenset(
    {"growth_sign", "no_fertiliser", "first_feed", "no_wiring", "no_pruning", "full_sun", "shade", "rot_check"}
)


def kind_of(key: str) -> TaskKind:
    """A kind by its key; one that nobody knows is looked at under its own name."""
    return TASK_KINDS.get(key) or TaskKind(key.replace("_", " ").capitalize(), "look", key.replace("_", " "))
