"""Step 1: what the transducer is."""
