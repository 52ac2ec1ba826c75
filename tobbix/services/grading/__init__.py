"""The services of the Grading step."""
