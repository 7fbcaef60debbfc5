"""Step 7: fresh readings against the reference."""
