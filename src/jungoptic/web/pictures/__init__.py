"""What was filmed: files that come in, are kept, read, and held against the plan."""
