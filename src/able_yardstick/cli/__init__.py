"""Every step without a window."""
