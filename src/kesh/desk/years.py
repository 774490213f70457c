"""What was reckoned of the years of pots under the tree in hand, kept while it stands as it stood."""

from collections.abc import Hashable, Mapping
from dataclasses import dataclass, field
from typing import Any

from kesh.advice.case import Case
from kesh.advice.checks import Checks
from kesh.advice.rules.year import year_checks
from kesh.advice.water.year import PotYears, asked_of
from kesh.model import Collection, Pot

NOT_YET = "not reckoned yet"


def rests_on(c: Collection, tree: str) -> tuple[Any, ...]:
    """What the years of a tree hang on, besides the pots."""
    brief = c.briefs.get(tree)
    kept = None if brief is None else (brief.keeping, brief.mix)
    return c.trees.get(tree), kept, c.mixes, c.site, c.plantings


@dataclass
class KnownYears:
    """By pot id, with what they rest on."""

    rests_on: Hashable | tuple[Any, ...] = ()
    by_pot: dict[str, PotYears | str] = field(default_factory=dict)

    def keep(self, rests: tuple[Any, ...], found: Mapping[str, PotYears | str]) -> None:
        """More of them; those that rest on something else are forgotten."""
        if rests != self.rests_on:
            self.rests_on, self.by_pot = rests, {}
        self.by_pot.update(found)

    def rows(self, case: Case, pots: tuple[Pot, ...], rests: tuple[Any, ...], *, old_too: bool) -> Checks:
        """What is known of pots, as rows of the rule table; none before anything is. `old_too`: as it was before a hand moved something."""
        if not any(pot.id in self.by_pot for pot in pots) or not (old_too or rests == self.rests_on):
            return ()
        return year_checks([self.by_pot.get(pot.id, NOT_YET) for pot in pots], asked_of(case.brief.keeping))
