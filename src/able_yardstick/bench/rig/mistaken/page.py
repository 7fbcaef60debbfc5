"""The table of named mistakes as a page."""

from collections.abc import Sequence

from .runs import MistakeRow

_NOT_MADE = (
    "Not made here, and so without a row: an air-fuel ratio reckoned for another fuel (no channel of the demo shows",
    "one), and 2ⁿ taken for 2ⁿ − 1, which at 12 bits is less than what the checks are unsure by. Tests hold both.",
)


def mistakes_page(rows: Sequence[MistakeRow], seed: int) -> str:
    """The table in Markdown."""
    head = [
        "# How often Prove names the right mistake",
        "",
        "Made by `able-yardstick mistakes --confusion --into docs/mistakes.md`: seeded runs on the demo's channels,",
        f"from seed {seed} on, none of which was used while the rules were made. In each a plant is built otherwise",
        "than it is described, or a controller is given other numbers; five checks are taken going up, with the",
        "channel's noise and a reference of 0.05 % of the range (k = 2). *In the set*: the true mistake is named. *Can",
        "be told apart*: it would still be named alone from checks without noise that are 1.8 times as unsure; what",
        "such checks leave together is alike by the channel's geometry. *Alone*: of these, it was the only one named.",
        "Of healthy runs the set counts those where nothing is named.",
        "",
        "| mistake | runs | in the set | can be told apart | alone | named instead |",
        "|---|---:|---:|---:|---:|---|",
    ]
    body = [
        f"| {row.mistake} | {row.runs} | {row.in_set} | {row.can_tell} | {row.alone} | "
        f"{'; '.join(f'{name} ({times})' for name, times in row.taken_for) or '–'} |"
        for row in rows
    ]
    return "\n".join([*head, *body, "", *_NOT_MADE])
