"""A unit in a mode: the way the refrigerant runs (``graph``), which way it does run (``direction``), and the readings in
their place (``readings``, ``context``), with what is usual there (``saturation``, ``usual``).

Others ask the circuit; they never slice its path. No judgement is passed here.
"""
