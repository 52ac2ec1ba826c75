"""The books: balances, lots, sessions, entries, and files."""
