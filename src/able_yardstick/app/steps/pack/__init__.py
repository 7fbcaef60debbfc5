"""Pack."""
