"""`able-yardstick`, and `python -m able_yardstick`."""

from .loading import hold


def main() -> None:
    """Load the command line and run it."""
    hold()
    from .cli.main import main as run

    run()


if __name__ == "__main__":
    main()
