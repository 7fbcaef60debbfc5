"""What happened: readings, looks, writes."""
