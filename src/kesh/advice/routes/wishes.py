"""What each maker brings to the work, kept from one pot to the next."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any, Literal, TypeVar

from kesh.science.making.clay import SampleBar

T = TypeVar("T")


@dataclass(frozen=True)
class MakerWishes:
    """`bars` are test bars by clay; `kiln_mm` is its inside; `own` what the makers of single routes bring, by route."""

    shrinkage: float | None = None
    bars: dict[str, SampleBar] = field(default_factory=dict)
    kiln_mm: tuple[float, float, float] | None = None
    people: Literal[1, 2] = 2
    own: Mapping[str, Any] = field(default_factory=dict)

    def shrinkage_of(self, material: str) -> float | None:
        """Total shrinkage of one's own clay; None when no bar of it was fired."""
        bar = self.bars.get(material)
        return bar.total if bar is not None else self.shrinkage

    def of(self, kind: type[T]) -> T:
        """What the maker brings whose wishes are of a kind; as usual where nothing was said."""
        return next((held for held in self.own.values() if isinstance(held, kind)), kind())

    def with_own(self, route: str, held: Any) -> "MakerWishes":
        """The same with what the maker of one route brings."""
        return replace(self, own={**self.own, route: held})
