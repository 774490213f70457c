"""The report as the line gives it."""
