"""Finding the last leak: what was tried on each, what cures how long, what a mend asks for, and how much drips."""
