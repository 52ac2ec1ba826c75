"""The rules and the computation: pure functions over plain typed values."""
