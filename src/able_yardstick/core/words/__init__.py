"""Words and numbers as people read them, refusals, and the base of every record."""
