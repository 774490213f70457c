"""A property that is worked out when it is first asked for and kept with its object."""

from collections.abc import Callable
from typing import Any, Generic, TypeVar, overload

T = TypeVar("T")


class once(Generic[T]):  # noqa: N801 - it stands where a decorator's name does
    """As functools.cached_property, without its lock.

    Up to Python 3.11 that lock is one for all objects of a class: while a thread judges a hundred thousand pots, the
    window would wait for the one figure of the pot in hand. Two threads that ask the same object at the same time may
    work the value out twice; both find the same.
    """

    def __init__(self, work: Callable[[Any], T]) -> None:
        self._work = work
        self.__doc__ = work.__doc__

    def __set_name__(self, owner: type, name: str) -> None:
        self._name = name

    @overload
    def __get__(self, held: None, owner: type) -> "once[T]": ...
    @overload
    def __get__(self, held: object, owner: type) -> T: ...
    def __get__(self, held: object | None, owner: type) -> "once[T] | T":
        if held is None:
            return self
        # from now on the value is found in the object itself, before this is asked
        kept: T = held.__dict__.setdefault(self._name, self._work(held))
        return kept
