"""Six words that let a phone in: easily read out across a yard, and typed with wet hands."""

import hashlib
import re
import secrets
from functools import cache

from mnemonic import Mnemonic

HOW_MANY = 6
"""Of 2048 words: one of 7e19 combinations, worth nothing after ten minutes."""
_TOLD_APART_BY = 4
"""The list's words differ in so many letters at their beginning."""


def new_words() -> str:
    """Six words, from the system's own chance."""
    return " ".join(secrets.choice(_list()) for _ in range(HOW_MANY))


def mark_of(written: str) -> str | None:
    """What is kept of words as somebody wrote them; None where they are not six words of the list.

    Capitals, commas and hyphens do not matter, nor does what follows a word's first four letters.
    """
    found = [_known().get(word[:_TOLD_APART_BY]) for word in re.findall(r"[a-z]+", written.lower())]
    if len(found) != HOW_MANY or None in found:
        return None
    return hashlib.sha256(" ".join(str(word) for word in found).encode()).hexdigest()


@cache
def _list() -> list[str]:
    return list(Mnemonic("english").wordlist)


@cache
def _known() -> dict[str, str]:
    return {word[:_TOLD_APART_BY]: word for word in _list()}
