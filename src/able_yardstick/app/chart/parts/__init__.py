"""The parts of the chart's panel."""
