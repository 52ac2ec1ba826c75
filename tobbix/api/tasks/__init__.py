"""Long work, whatever it is about."""
