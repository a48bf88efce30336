"""The recipe book, and applying it."""
