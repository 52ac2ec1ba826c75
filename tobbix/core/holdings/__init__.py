"""Things owned and what they cost: items, states, landed cost and its division, postings."""
