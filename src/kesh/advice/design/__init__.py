"""Designing a pot for a tree: the space searched, hard limits, aims, and the search."""
