"""Pictures developed by the simulated camera."""
