"""What a card sells for, and what the seller keeps of it."""
