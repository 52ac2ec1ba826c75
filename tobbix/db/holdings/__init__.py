"""The store of things owned, the books under them, and exchange rates."""
