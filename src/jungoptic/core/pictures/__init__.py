"""Pictures as arrays: those the project makes itself, and measuring those that come in."""
