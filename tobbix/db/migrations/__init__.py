"""The store's shape, step by step (Alembic)."""
