"""Marks and straight edges that a person picked in a picture, and what they say of its camera."""
