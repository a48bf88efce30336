"""For who uses the core from outside: one plate under judgement. Inside, see `stage.case`."""

from ..stage.case import Case

__all__ = ["Case"]
