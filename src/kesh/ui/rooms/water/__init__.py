"""Step Water: the year in this pot, before the tree stands in it."""
