"""Use cases of the Products step."""
