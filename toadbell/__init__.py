"""Toad Bell: hydrostatic testing of small pressure vessels, from the sum to the record."""

import os

os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")
"""None is used, and looking for them takes a fiftieth of a second of every command."""

__version__ = "0.5.0"
