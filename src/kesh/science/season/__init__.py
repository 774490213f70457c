"""Seasons of a tree: windows, days, growth, strain, what is learnt, who gets which pot."""
