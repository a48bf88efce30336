"""Screens and keying: light on the screen, its colour, and what a codec keeps of an edge."""
