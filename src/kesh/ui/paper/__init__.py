"""What goes to paper."""
