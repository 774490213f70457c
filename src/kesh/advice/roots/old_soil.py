"""Old soil, used again or not: the questions that decide it, and how much of it may go back (custom, [J]).

Some sow the new mix with a share of sound old soil on purpose, for what lives in it; others renew all of it.
"""

from collections.abc import Collection
from dataclasses import dataclass

# question, what a yes takes away
QUESTIONS = {
    "disease": "Rot, larvae or a bad smell in it",
    "clay": "Clay, field soil or mud in it",
    "salts": "White crusts, years of hard water or feed",
    "fines": "Grains that crush between the fingers",
    "lime": "Limy, under a tree that wants it sour",
}
SEED, SIEVED, FULL = 0.10, 0.25, 0.50


@dataclass(frozen=True)
class OldSoil:
    """Share of the fresh mix that may be old soil, least and most, and why."""

    low: float
    high: float
    words: str


def old_soil(yes: Collection[str]) -> OldSoil:
    """What the answers allow."""
    if "disease" in yes:
        return OldSoil(0.0, 0.0, "None of it: it carries what was wrong. Throw it away, clean pot and tools.")
    if "clay" in yes or "lime" in yes:
        why = "clay closes the pores" if "clay" in yes else "lime stays in it"
        return OldSoil(0.0, 0.0, f"None of it: {why}. Comb it out where roots allow.")
    if "salts" in yes:
        return OldSoil(0.0, SEED, f"At most {SEED:.0%}, soaked and drained twice: salts stay in the grains.")
    if "fines" in yes:
        return OldSoil(0.0, SIEVED, f"Up to {SIEVED:.0%} after sieving: throw away what falls through 2 mm.")
    return OldSoil(
        SEED,
        FULL,
        f"Sound: {SEED:.0%} sows the new mix, up to {FULL:.0%} sieved serves under growing trees. Some renew all of it all the same.",
    )
