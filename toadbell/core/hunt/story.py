"""A leak's story, a line at a time: how it was found, what was tried on it, and when it was dry."""

from typing import Any

from toadbell.core.hunt.counts import counted
from toadbell.core.phrases import Said, say

WET = ("damp", "weep", "drip", "stream")


def found_says(data: dict[str, Any]) -> Said:
    """How a leak was found, by what came with its entry: how it showed, at what pressure, what was counted of it."""
    told = [say("hunt.story-words", words=data.get("shows", "seen"))]
    if data.get("found"):
        told.append(say("hunt.story-found", found=data["found"]))
    if data.get("pressure") is not None:
        told.append(say("hunt.story-at", pressure=data["pressure"]))
    if data.get("count") is not None and data.get("seconds"):
        rate = counted(data["count"], data["seconds"], "drops" if data.get("shows") in WET else "bubbles")
        told.append(
            say(
                "hunt.story-counted",
                count=data["count"],
                over=data["seconds"],
                rate=rate.rate,
                low=rate.low,
                high=rate.high,
            )
        )
    return _in_a_row(told)


def mended_says(data: dict[str, Any]) -> Said:
    """What was done about it, by what came with its entry."""
    told: list[Said] = []
    if data.get("act"):
        told.append(say(f"hunt.{data['act']}"))
    if data.get("compound"):
        told.append(say("hunt.story-with", compound=say(f"hunt.{data['compound']}")))
    if data.get("did"):
        told.append(say("hunt.story-words", words=data["did"]))
    return _in_a_row(told)


def _in_a_row(told: list[Said]) -> Said:
    return say("hunt.story-line", told=told)
