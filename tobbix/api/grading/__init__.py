"""The Grading step: graders, cards looked at, submissions, what came back."""
