"""Budgets and coverage: one rule for the whole program."""
