"""Opening: what is still in a box, results against the odds, weights."""
