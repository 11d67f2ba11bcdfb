"""Defrost, as a recording shows it: what the board is set to, which way the circuit ran, each defrost from its start to the
recovery after it, and what is wrong with it.

Not here: what readings of a run say of fan, heat and sensors (checks), and which fault that speaks for (diagnosis).
"""
