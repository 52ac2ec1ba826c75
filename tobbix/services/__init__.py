"""Use cases: load, call the core, save; one transaction each."""
