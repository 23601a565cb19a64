"""What the hold's readings prove, and what the vessel is fit for."""
