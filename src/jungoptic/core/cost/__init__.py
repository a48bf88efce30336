"""Hours on set and in post."""
