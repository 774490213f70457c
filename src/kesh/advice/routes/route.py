"""What a maker's route is: one object in one file, from its words to its job."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Any, Literal

from kesh.advice.assess import Assessment
from kesh.advice.routes.job import Job
from kesh.advice.routes.wishes import MakerWishes
from kesh.base.errors import FieldError
from kesh.model import Pot
from kesh.reference.tables import materials

Sort = Literal["choice", "mm", "fine_mm", "three_mm", "whole", "yes"]
Judge = Callable[[Pot], Assessment | None]


# so many words to choose from are told in one line
MOST_TOLD = 8


def always(wishes: Any) -> bool:
    """Asked whatever else is brought."""
    return True


@dataclass(frozen=True)
class Ask:
    """One thing a maker brings: a field of the route's wishes, behind a dot a part of it.

    It stands in the Workshop under `label` and on the command line as `option`, in neither without one. `choices` are
    words by key; `known` are the keys the line takes, all keys where it names none; `only` tells when it is asked;
    `read` and `put` stand for a field where one row of the Workshop writes two.
    """

    field: str
    sort: Sort
    label: str = ""
    option: str = ""
    says: str = ""
    mark: str = ""
    choices: Callable[[], Mapping[str, str]] = dict
    known: Callable[[], Iterable[str]] | None = None
    only: Callable[[Any], bool] = always
    read: Callable[[Any], Any] | None = None
    put: Callable[[Any, Any], Any] | None = None

    @property
    def dest(self) -> str:
        """The option as a name."""
        return self.option.lstrip("-").replace("-", "_")

    def value(self, wishes: Any) -> Any:
        """What is brought."""
        if self.read is not None:
            return self.read(wishes)
        for part in self.field.split("."):
            wishes = getattr(wishes, part)
        return wishes

    def given(self, wishes: Any, value: Any) -> Any:
        """The wishes with another value."""
        return self.put(wishes, value) if self.put is not None else _with(wishes, self.field.split("."), value)

    def check(self, value: Any) -> None:
        """Raises FieldError for a key that is not known."""
        known = None if self.known is None else tuple(self.known())
        if known is None or value in known:
            return
        # of a long table the line names those that the Workshop offers
        told = known if len(known) <= MOST_TOLD else (*self.choices(), "or another of the materials table")
        raise FieldError(self.option, f"'{value}' is none Kesh knows; choose {', '.join(told)}")


def _with(held: Any, path: list[str], value: Any) -> Any:
    first, *rest = path
    return replace(held, **{first: _with(getattr(held, first), rest, value) if rest else value})


def nothing_wrong(wishes: Any, given: frozenset[str]) -> None:
    """Whatever is brought goes together."""


@dataclass(frozen=True)
class Route:
    """One way of making a pot.

    `words` name it, `head` stands over its panel, `writes` on its button, `brings` over what its maker brings. `make`
    gives its job and raises FieldError where the pot cannot be made so. `wishes` is the kind of record the maker's own
    things are kept in, `asks` its rows, `check` raises FieldError for things that do not go together, told by the options that were given. `built` names the view of what is
    made, `as_made` the same on paper; without them there is only the design.
    """

    key: str
    place: int
    words: str
    head: str
    writes: str
    brings: str
    make: Callable[[Pot, Judge, MakerWishes], Job]
    wishes: type[Any] | None = None
    asks: tuple[Ask, ...] = ()
    check: Callable[[Any, frozenset[str]], None] = nothing_wrong
    built: str = ""
    as_made: str = ""


def named(*keys: str) -> Callable[[], Mapping[str, str]]:
    """Materials by key, with their names."""
    return lambda: {key: materials()[key].name for key in keys}


def beginning(*heads: str) -> Callable[[], Iterable[str]]:
    """The keys of all materials that begin so."""
    return lambda: [key for key in materials() if key.startswith(heads)]
