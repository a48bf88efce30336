"""What was filmed, held against the plan: files, pairs, clips frame by frame."""
