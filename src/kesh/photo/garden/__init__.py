"""A tree cut out of any garden: what lies outside a loop is ground, what lies inside is asked by colour, texture and place."""
