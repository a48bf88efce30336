"""How words are put together into a sentence."""

from __future__ import annotations


def capital(text: str) -> str:
    """`text` begun with a capital; the rest as it is."""
    return text[:1].upper() + text[1:]
