"""The kinds of channels that are signed: what each adds to the record that all have."""
