"""Step Brief: what the next pot must do."""
