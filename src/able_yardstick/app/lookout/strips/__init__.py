"""One painter for each kind of row."""
