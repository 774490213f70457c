"""A group of trees in its tray: what is planned, checked and found."""
