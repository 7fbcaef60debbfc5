"""A calibration as controllers take it: every form with the controller's own arithmetic."""
