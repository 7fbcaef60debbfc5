"""The centre of the window: the Rule, the plots, one hairline through all of them."""
