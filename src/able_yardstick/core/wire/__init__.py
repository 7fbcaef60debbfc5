"""Step 2: the signal path, its checks and its breaks."""
