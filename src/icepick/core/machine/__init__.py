"""A machine is a unit with numbers, solved: what it shows at every station, sound or with any fault. Parts, sizing, faults
and the steady solver live here; what a reading means, limits and verdicts do not.
"""
