"""How a tree stands and is held in its pot: weight, wind, place, wires."""
