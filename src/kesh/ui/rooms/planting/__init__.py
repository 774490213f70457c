"""Step Planting: the place, ties, cut list, soil and the order of the work."""
