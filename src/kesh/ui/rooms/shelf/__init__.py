"""Place Shelf: all pots."""
