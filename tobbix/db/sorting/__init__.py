"""What sorting keeps, in the store."""
