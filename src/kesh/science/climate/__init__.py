"""Weather and what it does to a pot: the usual year, many years, cold, heat, one's own readings."""
