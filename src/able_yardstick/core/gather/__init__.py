"""Step 4: readings of sensor and reference together."""
