"""Logs: everything that arrived, in one file of an open form (docs/log-format.md)."""
