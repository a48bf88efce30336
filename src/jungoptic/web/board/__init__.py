"""The Board: shots in story order, moved, merged, split."""
