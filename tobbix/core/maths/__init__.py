"""Domain-free probability: severities, compound distributions."""
