"""Use cases of the Books."""
