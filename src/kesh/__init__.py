"""Kesh: pots for bonsai, measured, computed and drawn to scale."""

__version__ = "0.1.0"
