"""Gather."""
