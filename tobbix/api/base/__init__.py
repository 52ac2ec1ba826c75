"""What every room of the API shares: acts, fields, problems, sign-in."""
