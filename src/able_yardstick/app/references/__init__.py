"""The reference instruments."""
