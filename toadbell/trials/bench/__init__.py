"""The run of a trial."""
