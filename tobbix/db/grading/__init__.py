"""Grading in the store: graders, measured photos, what is expected, submissions, trials of the eye."""
