"""The store: PostgreSQL tables and queries, rows to core values and back."""
