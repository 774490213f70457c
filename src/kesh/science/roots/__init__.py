"""Roots against a pot: fit, cuts, stages, room, filling, lines, the clock of bare roots."""
