"""Blocks of work at the table: pictures taken one by one, measured as they are taken."""
