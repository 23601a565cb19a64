"""Properties are tried without a stop-watch: speeds are measured by `make bench`, on a machine that does nothing else."""

from hypothesis import settings

settings.register_profile("house", deadline=None, derandomize=True)
settings.load_profile("house")
