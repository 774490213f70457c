"""The steps of a repotting, made one by one: before lifting, on the roots, and into the pot."""
