"""Step Line-up: pots under the tree."""
