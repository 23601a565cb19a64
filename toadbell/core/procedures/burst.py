"""The burst trial: a sacrificial article taken to failure, to know the design. It proves nothing of the article.

Remote, under water, its ends framed. Noises are written down as they are heard, then the first leak, then the failure
with its place and mode. What articles of one design come to is judged by `toadbell.core.judge.burst`.
"""

from collections.abc import Sequence
from dataclasses import replace

from toadbell.core.phrases import Said, say
from toadbell.core.procedures.procedure import Observation
from toadbell.core.procedures.proof import PROOF
from toadbell.core.run.phases import Entry
from toadbell.core.sheets.burst import Article

BURST = replace(
    PROOF,
    id="burst",
    proves="design",
    kinds=frozenset({"chamber", "receiver", "fermenter", "boiler", "joint", "pipework"}),
    observes=(
        Observation("pressure", "pressure"),
        Observation("strokes", "count"),
        Observation("noise", "words", instrument="noise"),
        Observation("first leak", "words", instrument="first-leak"),
        Observation("failure", "words", instrument="failure"),
    ),
    has_hold=False,
)


def article_of(name: str, entries: Sequence[Entry], highest: float, before: float | None) -> Article | None:
    """What the log of a run tells of its article; None before it was pressed.

    highest  pressure that was read, Pa
    before   highest that it had seen in earlier trials, Pa; None where it had seen none
    """
    if highest <= 0:
        return None
    lettings = [n for n, one in enumerate(entries) if one.kind == "gone-back" and not one.data.get("to")]
    loading = entries[lettings[-1] + 1 :] if lettings else entries
    earlier = [before or 0.0, *(float(one.data.get("from") or 0.0) for one in (entries[n] for n in lettings))]
    failure = next((one for one in reversed(loading) if _is(one, "failure")), None)
    failed = None if failure is None else float(failure.data.get("value") or highest)
    top = max(highest, failed or 0.0)
    return Article.model_construct(
        name=name[:120],
        highest=top,
        failed=failed,
        mode=None if failure is None else failure.data.get("word"),
        place="" if failure is None else str(failure.data.get("place", ""))[:120],
        noise=_first(loading, "noise", top),
        leak=_first(loading, "first-leak", top),
        before=max(earlier) or None,
    )


def contradicts(what: str, value: float | None, highest: float | None, target: float) -> Said | None:
    """Why what was seen of an article cannot be; None where it can. Pressures Pa."""
    if highest is None or highest <= 0:
        return say("step.burst-unpressed")
    if what == "failure" and value is not None and not 0 < value <= 1.5 * max(highest, target):
        return say("step.burst-figure", value=value, highest=highest)
    return None


def _is(entry: Entry, what: str) -> bool:
    return entry.kind == "observed" and entry.data.get("what") == what


def _first(entries: Sequence[Entry], what: str, top: float) -> float | None:
    """The pressure at which it was first seen or heard, Pa."""
    for one in entries:
        if _is(one, what):
            at = one.data.get("pressure")
            return None if at is None else min(float(at), top)
    return None
