"""User names: the same name is the same person, however it is written."""

from __future__ import annotations

import unicodedata

from confusable_homoglyphs import confusables

from ..records import Refused


def written(name: str) -> str:
    """A name as it is stored and shown (Unicode NFKC: no two ways to write one letter)."""
    return unicodedata.normalize("NFKC", name)


def key(name: str) -> str:
    """What tells a name from others: regardless of case and of the way it is written."""
    return unicodedata.normalize("NFKC", written(name).casefold())


def check(name: str) -> str:
    """The name as it is stored. Raises `Refused` for one that mixes scripts, so that it can be
    taken for somebody else's (Unicode TR 39, mixed-script confusables)."""
    found = written(name)
    if confusables.is_mixed_script(found):
        raise Refused(
            "username", "Letters of several alphabets in one name look like another name; use one."
        )
    return found
