"""The worked example beside a formula comes out as it is printed."""

import doctest
import importlib
import pkgutil

import pytest

import toadbell.core

MODULES = [found.name for found in pkgutil.walk_packages(toadbell.core.__path__, "toadbell.core.")]
FINDER = doctest.DocTestFinder(exclude_empty=True)
EXAMPLES = [test for name in MODULES for test in FINDER.find(importlib.import_module(name)) if test.examples]


@pytest.mark.parametrize("example", EXAMPLES, ids=lambda test: test.name.removeprefix("toadbell.core."))
def test_it_comes_out_as_printed(example: doctest.DocTest) -> None:
    told: list[str] = []
    failed, tried = doctest.DocTestRunner(verbose=False).run(example, out=told.append)
    assert tried > 0
    assert not failed, "".join(told)
