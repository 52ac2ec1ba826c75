"""The store of the Buying step."""
