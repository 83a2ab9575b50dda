"""Fitting up: steps in order, figures to compare, what is wrong if something is seen otherwise."""
