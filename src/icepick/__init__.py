"""Icepick: diagnosis of the refrigerant circuit of a heat pump."""

__version__ = "0.1.0"
