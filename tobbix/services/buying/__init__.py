"""Use cases of the Buying step."""
