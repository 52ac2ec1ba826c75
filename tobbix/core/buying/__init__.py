"""Buying: what to bid, what to offer for a collection."""
