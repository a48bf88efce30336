"""Devices and the files they write: simulated makers whose truth is known."""
