"""Superchargers: boost, the power it takes, compressor maps."""
