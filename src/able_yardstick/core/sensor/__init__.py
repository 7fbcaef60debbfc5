"""The transducer as its data sheet gives it."""
