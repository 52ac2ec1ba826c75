"""The shared words of the core: money, errors, results."""
