"""Special plantings: each kind with its fields, drawing, findings, work steps, cut list and aftercare."""
