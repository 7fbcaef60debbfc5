"""What a cause can foretell of each look and test: a column of the table of causes each, and its cells."""
