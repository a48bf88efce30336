"""From a script to plates: recipes, advice, continuity, sketches, progress."""
