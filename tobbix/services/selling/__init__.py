"""The services of the Selling step."""
