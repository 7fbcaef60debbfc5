"""Step 3: whether a raw signal is alive and plausible before any scaling, and what is wrong when it is not."""
