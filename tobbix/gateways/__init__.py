"""What is asked of the outside: ports."""
