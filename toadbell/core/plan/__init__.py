"""From a vessel and a wanted pressure to a test pressure, its limits, stages and hold."""
