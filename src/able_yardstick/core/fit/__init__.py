"""Step 5: which curve, and what it is worth."""
