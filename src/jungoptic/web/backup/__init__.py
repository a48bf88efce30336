"""Everything at once, put aside and fetched back: the database and the files it refers to."""
