"""Job files of earlier versions, brought to the present one as they are opened; the file itself stays as it is."""

from typing import Any


def migrated(tree: dict[str, Any]) -> dict[str, Any]:
    """The tree of a job file in the present version."""
    if tree.get("version") == 1:
        channels = tree.get("channels")
        listed = channels if isinstance(channels, list) else []
        tree = {**tree, "version": 2, "channels": [_channel_from_1(channel) for channel in listed]}
    if tree.get("version") == 2:
        tree = {**tree, "version": 3}  # which only knows more
    if tree.get("version") == 3:
        channels = tree.get("channels")
        listed = channels if isinstance(channels, list) else []
        tree = {**tree, "version": 4, "channels": [_channel_from_3(channel) for channel in listed]}
    return _from_4(tree) if tree.get("version") == 4 else tree


_DOCUMENT = ("title", "devices", "references", "channels", "controllers", "sources", "fits")
_JOURNAL = ("readings", "amendments", "packs", "writes")


def _from_4(tree: dict[str, Any]) -> dict[str, Any]:
    """Version 4 kept all in one list of fields; now what may be changed and what happened are apart."""
    rest = {name: value for name, value in tree.items() if name not in (*_DOCUMENT, *_JOURNAL, "wakes")}
    document = {name: tree[name] for name in _DOCUMENT if name in tree}
    journal = {name: tree[name] for name in _JOURNAL if name in tree}
    journal["looks"] = tree.get("wakes", [])
    writes = journal.get("writes")
    if isinstance(writes, list):
        numbered = enumerate(writes)
        journal["writes"] = [{"id": f"w{n}", **one} if isinstance(one, dict) else one for n, one in numbered]
    return {**rest, "version": 5, "document": document, "journal": journal}


def _channel_from_3(channel: Any) -> Any:
    """Version 3 knew evenly spaced knots only."""
    spec = channel.get("pack_spec") if isinstance(channel, dict) else None
    if not isinstance(spec, dict) or spec.get("form") != "knots":
        return channel
    return {**channel, "pack_spec": {**spec, "spacing": "even"}}


def _channel_from_1(channel: Any) -> Any:
    """Version 1 knew one kind of data sheet, and a contact without a path."""
    if not isinstance(channel, dict):
        return channel
    found = dict(channel)
    transducer = found.get("transducer")
    if isinstance(transducer, dict) and transducer.get("source") == "data sheet":
        found["transducer"] = {**transducer, "source": "data sheet of the type"}
    unit = found.pop("signal_unit", None) if found.get("kind") == "two-state" else None
    if unit:
        top = max(float(found.get("open_level", 5.0)), float(found.get("closed_level", 0.0)), 1.0)
        found["path"] = {"source": unit, "converter": {"unit": unit, "high": top}}
    return found
