"""The store of the Opening step."""
