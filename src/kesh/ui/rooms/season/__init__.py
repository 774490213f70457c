"""Place Season: when, what next, who gets which pot."""
