"""The Wire view: what each break would read like, and the path drawn from the data."""
