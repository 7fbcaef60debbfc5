"""Wake."""
