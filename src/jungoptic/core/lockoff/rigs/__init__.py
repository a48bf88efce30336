"""Things that move by themselves: what carries them, what of it is seen, what it bears."""
