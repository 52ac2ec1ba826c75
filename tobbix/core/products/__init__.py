"""Products: the odds of a release, what its boxes are worth, the most to pay (C-01 to C-04, C-07)."""
