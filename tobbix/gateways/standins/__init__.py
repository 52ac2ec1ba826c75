"""Small simulated stand-ins for the outside, which ship with it."""
