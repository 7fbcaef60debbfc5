"""What a person may change their mind about."""
