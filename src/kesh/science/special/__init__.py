"""Special plantings: rock, tube, cascade, layer, tub, desert plant, cutting, shared pot, aerial root, graft, slab. One question a file."""
