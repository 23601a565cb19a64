"""The page that says who gets in names tests that are there."""

import re
from pathlib import Path

TOP = Path(__file__).parents[2]
PAGE = (TOP / "docs" / "security.md").read_text(encoding="utf-8")
NAMED = re.findall(r"`(?:[\w/]+: )?([a-z]+(?:_[a-z]+){3,})(…?)`", PAGE)
TESTS = {
    name
    for path in (TOP / "tests").rglob("test_*.py")
    for name in re.findall(r"^def test_(\w+)\(", path.read_text(encoding="utf-8"), re.MULTILINE)
}


def test_every_test_on_it_is_there() -> None:
    assert len(NAMED) > 15
    missing = [
        name for name, cut in NAMED if not (any(one.startswith(name) for one in TESTS) if cut else name in TESTS)
    ]
    assert missing == []
