"""Sorting a hoard over HTTP."""
