"""The rig: a simulated plant behind real protocols, so that a bench can be tried without one."""
