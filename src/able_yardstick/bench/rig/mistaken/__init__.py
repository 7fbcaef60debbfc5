"""Seeded runs of every known mistake on simulated channels: how often it is named."""
