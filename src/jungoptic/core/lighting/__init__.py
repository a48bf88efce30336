"""Light on a stage: lamps as they stand, what they give, and how that agrees with the story."""
