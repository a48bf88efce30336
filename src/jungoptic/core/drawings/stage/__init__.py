"""The Stage drawing of one plate: side elevation and plan, to scale."""
