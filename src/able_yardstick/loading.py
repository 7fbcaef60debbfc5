"""While the program is loaded nothing is looked through for garbage: what is loaded stays to the end."""

import gc


def hold() -> None:
    """Collect nothing for a while."""
    gc.disable()


def release() -> None:
    """Collect again, without ever looking through what is there by now."""
    gc.freeze()
    gc.enable()
