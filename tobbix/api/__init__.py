"""The HTTP interface: JSON under /api, documented by its own OpenAPI document."""
