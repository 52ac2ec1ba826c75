"""Tobbix: the whole cycle of sealed trading cards, for one owner."""
