"""The Rule: stacked scales on one axis, read at one hairline."""
