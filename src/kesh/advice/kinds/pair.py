"""Two trunks."""

from kesh.advice.kinds.kind import Kind
from kesh.advice.kinds.kinds import KindRow

KIND = Kind(
    KindRow("pair", 2, "Pair", "Two trunks: step Group tells how they stand to each other from front and back.", styles=("twin_trunk",))
)  # fmt: skip
