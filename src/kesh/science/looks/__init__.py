"""How a pot looks under a tree: proportion, visual mass, colour, character, schools' bands."""
