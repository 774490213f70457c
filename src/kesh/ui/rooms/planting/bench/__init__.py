"""At the bench: the whole window for one step at a time, readable from two metres, worked with four keys."""
