"""Use cases of the installation: owner, preferences, store, backups."""
