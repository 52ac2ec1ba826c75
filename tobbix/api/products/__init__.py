"""The Products step over HTTP."""
