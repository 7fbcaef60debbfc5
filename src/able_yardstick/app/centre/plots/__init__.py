"""The curve plot and the error plot under the Rule, on the same axis."""
