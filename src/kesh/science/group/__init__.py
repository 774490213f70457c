"""Several trees in one tray: layout check, laying out anew, sight lines, hill, root room and growth."""
