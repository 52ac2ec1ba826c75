"""Sign-in, the owner's preferences, and whether the server is well."""
