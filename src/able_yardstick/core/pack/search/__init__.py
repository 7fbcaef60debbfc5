"""Searches for the best numbers of a form, and the proofs that there are none better."""
