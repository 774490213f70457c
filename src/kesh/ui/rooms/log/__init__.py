"""Step Log: the life of the tree, what was done and learnt, what follows."""
