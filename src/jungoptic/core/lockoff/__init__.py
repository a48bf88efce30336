"""Locked-off plates: what they share, their clean plate, the line between halves, what is thrown
across it, and halves that are filmed the other way round."""
