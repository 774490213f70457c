"""One planting thought through: place, ties, soil, cuts, order of the work."""
