"""Published reference functions and laws, as plain functions of arrays: each cites its standard."""
