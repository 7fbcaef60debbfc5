"""Sign: the page as it will be signed, what is missing from it, and who signs."""
