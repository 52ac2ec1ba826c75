"""Grading: whether, at what cost, which cards in which tier."""
