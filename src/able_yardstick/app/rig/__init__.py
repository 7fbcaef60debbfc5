"""The simulated plant from the window's side."""
