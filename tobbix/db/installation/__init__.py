"""The installation in the store: owner, preferences, sessions, acts that were sent."""
