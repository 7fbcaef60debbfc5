"""Step 6: the numbers for the controller."""
