"""The work at the roots: base, views, stages."""
