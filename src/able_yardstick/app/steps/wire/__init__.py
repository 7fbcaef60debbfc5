"""Wire."""
