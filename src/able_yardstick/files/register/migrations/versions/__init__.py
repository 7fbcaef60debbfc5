"""How a register of an earlier version becomes one of this version."""
