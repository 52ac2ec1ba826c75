"""Long work, whatever it is about: begun, followed, stopped, carried out by the worker."""
