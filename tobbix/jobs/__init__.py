"""Background tasks: thin calls of services, deferred by name."""
