"""Photographs of the demo, rendered from grown trees."""
