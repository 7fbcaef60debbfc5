"""Which arithmetic an unknown controller has, from pairs of a count and what it shows."""
