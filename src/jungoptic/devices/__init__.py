"""Simulated stand-ins for devices on a set, each behind a small protocol of its own."""
