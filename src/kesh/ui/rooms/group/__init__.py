"""Step Group: several trees in one tray."""
