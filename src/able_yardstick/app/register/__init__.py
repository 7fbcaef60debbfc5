"""The register in the window: a unit over its visits, what is due, what rests on an instrument."""
