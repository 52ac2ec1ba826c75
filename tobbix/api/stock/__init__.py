"""The Stock step: everything owned."""
