"""The vessel itself: what it is made of, its shape, and what its parts can bear."""
