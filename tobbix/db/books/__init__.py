"""What the books add up to, out of the store."""
