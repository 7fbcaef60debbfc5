"""Drift: the visits of a unit side by side, where it goes, and when it is to be seen again."""
