"""Results, what they rest on, and what is stale."""
