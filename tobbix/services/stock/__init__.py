"""Use cases of the Stock step."""
