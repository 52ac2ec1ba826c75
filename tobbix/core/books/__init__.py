"""Reading the books: accounts, lots, sessions."""
