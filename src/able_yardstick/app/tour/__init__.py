"""The demo walked through without a screen."""
