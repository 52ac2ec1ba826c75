"""The Pricing step: ways of selling, and what a price nets."""
