"""Step 8: what is signed of a channel, and what is missing from it."""
