"""The Opening step: sessions, pulls, results against the odds, weights, redemptions."""
