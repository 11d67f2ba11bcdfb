"""Icepick: diagnosis of the refrigerant circuit of a heat pump."""

from importlib.metadata import version

__version__ = version("icepick")
