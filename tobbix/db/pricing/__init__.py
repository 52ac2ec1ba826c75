"""The store of the Pricing step: ways of selling."""
