"""One rule of locked-off plates a file."""
