"""The panel of each step."""
