"""`python -m able_yardstick` is the command `able-yardstick`."""

from .cli import main

main()
