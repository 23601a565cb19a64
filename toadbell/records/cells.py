"""Cells of a table that other programs open: a text that begins like a formula is not to be run as one."""

_RUNS = ("=", "+", "-", "@", "\t", "\r")
_SHIELD = "'"


def plain_cell(text: str) -> str:
    """A text with an apostrophe before it where a spreadsheet would take it for a formula."""
    return _SHIELD + text if text.startswith(_RUNS) or text.startswith(_SHIELD) else text


def bare_cell(text: str) -> str:
    """The text as it was before `plain_cell`."""
    return (
        text[1:] if text.startswith(_SHIELD) and (text[1:].startswith(_RUNS) or text[1:].startswith(_SHIELD)) else text
    )
