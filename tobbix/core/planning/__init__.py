"""Decisions across the steps of the work."""
