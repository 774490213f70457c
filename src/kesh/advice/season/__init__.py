"""The year over the whole collection: windows, what is due, tasks and what ends them, strain, weekends, who gets which pot."""
