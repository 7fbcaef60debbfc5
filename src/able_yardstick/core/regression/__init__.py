"""Curves through points, over plain arrays: what they come to and what they are worth."""
