"""A group: its layout stands in step Group."""

from kesh.advice.kinds.group_steps import ORDER, group_steps
from kesh.advice.kinds.kind import Kind
from kesh.advice.kinds.kinds import KindRow

KIND = Kind(
    KindRow("group", 1, "Group", "Its trees, ground and sight lines stand in step Group; the tray is judged for all of them together.", styles=("forest", "clump", "multi_trunk")),
    order=ORDER,
    steps=group_steps,
)  # fmt: skip
