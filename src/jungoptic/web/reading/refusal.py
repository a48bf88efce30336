"""Why a file is not taken."""

from __future__ import annotations


class Refusal(Exception):
    """A file is not what it should be; `sentence` says what is wrong and what to do."""

    def __init__(self, sentence: str) -> None:
        super().__init__(sentence)
        self.sentence = sentence
