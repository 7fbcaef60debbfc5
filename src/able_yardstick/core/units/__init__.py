"""Units as people write them, quantities, and the conditions that a conversion may need."""
