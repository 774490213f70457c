"""A tree in a pot."""

from kesh.advice.kinds.kind import Kind
from kesh.advice.kinds.kinds import KindRow

KIND = Kind(
    KindRow("plain", 0, "Plain", "A tree in a pot: nothing is changed.")
)  # fmt: skip
