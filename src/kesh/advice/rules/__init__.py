"""Rules by what they look at, each for N pots at once."""
