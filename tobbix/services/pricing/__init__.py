"""Use cases of the Pricing step."""
