"""Pictures as arrays: putting them together, and measuring them."""
