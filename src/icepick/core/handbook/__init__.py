"""What the Handbook holds: calculators over the formulas, and a page for each fault.

Words and arithmetic; what a visit's readings say is for ``checks`` and ``diagnosis``.
"""
