"""Calculators that store nothing, and the Bench on paper."""
