"""`python -m able_yardstick` is the command `able-yardstick`."""

from .cli.main import main

main()
