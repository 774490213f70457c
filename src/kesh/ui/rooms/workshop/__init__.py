"""The Workshop: designs, their four views, the makers' panel."""
