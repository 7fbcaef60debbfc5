"""Records: signed, read again and verified; keys, and whose are trusted."""
