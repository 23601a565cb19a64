"""What was done, to be shown and carried away."""
