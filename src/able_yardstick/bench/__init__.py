"""Live sources: links that run beside the window and fill streams with numbered samples."""
