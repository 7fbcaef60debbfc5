"""The lookout: every channel live at once, what needs attention, and the log."""
