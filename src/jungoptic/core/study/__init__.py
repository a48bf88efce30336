"""What is worth knowing about a plate beyond its numbers."""
