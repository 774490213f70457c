"""Step Roots: the root map, and what goes when."""
