"""Sorting a hoard: passes, entry, what is worth a look, condition, goals, lots."""
