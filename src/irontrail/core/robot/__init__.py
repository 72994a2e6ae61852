"""The robot: how its two wheels answer the powers set, and where its sensor sits."""
