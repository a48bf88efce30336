"""One plate's stage: everything derived from its decisions."""
