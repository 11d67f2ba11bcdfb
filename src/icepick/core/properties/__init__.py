"""What holds for any machine: units, refrigerants, moist air, water, sensors, and the trade's arithmetic on them.

SI in and SI out (``quantities`` is the border). Knows no unit, no visit, no practice limit.
"""
