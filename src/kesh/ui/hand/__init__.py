"""What a hand does on a drawing: grips, keys, wheel, turning."""
