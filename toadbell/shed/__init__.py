"""Vessels and the people who look after them."""
