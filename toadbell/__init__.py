"""Toad Bell: hydrostatic testing of small pressure vessels, from the sum to the record."""

__version__ = "0.5.0"
