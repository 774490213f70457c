"""Place Reference: what Kesh knows and assumes."""
