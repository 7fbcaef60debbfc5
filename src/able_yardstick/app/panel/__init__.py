"""What the panels of several steps share: fields, tables of figures and of readings."""
