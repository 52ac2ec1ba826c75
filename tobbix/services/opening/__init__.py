"""Use cases of the Opening step."""
