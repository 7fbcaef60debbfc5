"""The chart: courses against time or against each other, live or out of a log, and what a log is good for."""
