"""The reckoning: knows no window, file, socket or clock."""
