"""Loaded before the settings are: each worker of a test run has a data folder of its own, so that what one does to its
workshop (another database put in place, a clock laid, words written down) is never seen by another.
"""

import os
from pathlib import Path

worker = os.environ.get("PYTEST_XDIST_WORKER")
if worker:
    shared = Path(os.environ.get("TOADBELL_DATA") or Path(__file__).parents[1] / "data" / "test")
    os.environ["TOADBELL_DATA"] = str(shared / worker)
