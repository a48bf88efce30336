"""For who uses the core from outside: verdicts, findings, remedies. Inside, see `plan.findings`."""

from .plan.findings import Finding, Quantity, Remedy, Verdict, Working, banded, worst, worst_first

__all__ = ["Finding", "Quantity", "Remedy", "Verdict", "Working", "banded", "worst", "worst_first"]
