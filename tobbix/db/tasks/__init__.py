"""Long work: what was asked, how far it is, and what came out."""
