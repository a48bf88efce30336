"""Answers worth keeping for every process, until what they came from is another."""
