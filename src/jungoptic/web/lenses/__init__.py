"""Lenses measured by stills of a board."""
