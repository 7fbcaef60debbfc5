"""Outputs: what a wanted quantity becomes at a terminal, what writes it, what stops it, and its proof."""
