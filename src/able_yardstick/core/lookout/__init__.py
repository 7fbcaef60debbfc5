"""The lookout: how every channel stands at one moment, what needs attention, and what a log says afterwards."""
