"""The plan of a trial."""
