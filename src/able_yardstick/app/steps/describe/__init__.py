"""Describe."""
