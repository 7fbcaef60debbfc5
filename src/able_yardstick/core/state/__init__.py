"""How far a channel has come, and the Rule's scales."""
