"""The workshop opened to its own network: a certificate of its own, the addresses there are, a second door."""
