"""Alarms: the counts that trip and clear them by the packed arithmetic, and what each break does to them."""
