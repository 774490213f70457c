"""A solid cut into pieces for a printer's bed: where it is cut, the joints, the pieces, and whether they go together."""
