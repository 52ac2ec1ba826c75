"""Sorting a hoard."""
