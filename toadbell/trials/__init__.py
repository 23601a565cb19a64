"""A trial from plan to decision."""
