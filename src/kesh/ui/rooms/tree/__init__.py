"""Step Tree: measures by tape, calliper and photograph."""
