"""Two trunks."""

from kesh.advice.kinds.group_steps import ORDER, group_steps
from kesh.advice.kinds.kind import Kind
from kesh.advice.kinds.kinds import KindRow

KIND = Kind(
    KindRow("pair", 2, "Pair", "Two trunks: step Group tells how they stand to each other from front and back.", styles=("twin_trunk",)),
    order=ORDER,
    steps=group_steps,
)  # fmt: skip
