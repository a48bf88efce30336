"""Maps of sets: computed, and as files to take to the set."""
