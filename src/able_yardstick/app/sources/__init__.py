"""The Sources view: what is connected, how it answers, and what each of its numbers is."""
