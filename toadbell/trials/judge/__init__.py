"""The verdict on a hold, and the decision."""
