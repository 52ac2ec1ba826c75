"""The demo: an invented collector's releases, made from a seed, the same every time."""
