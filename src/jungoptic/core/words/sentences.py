"""How words are put together into a sentence."""

from __future__ import annotations

from collections.abc import Sequence


def capital(text: str) -> str:
    """`text` begun with a capital; the rest as it is."""
    return text[:1].upper() + text[1:]


def listed(words: Sequence[str]) -> str:
    """`a`, `a and b`, `a, b and c`: one word at least."""
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"
