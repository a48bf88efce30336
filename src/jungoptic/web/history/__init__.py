"""Who did what in a production, told from the journal."""
