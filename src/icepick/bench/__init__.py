"""The practice bench: machines with hidden faults, what reading them takes, and what an expert would have read.

Here live cases and lessons, the unit at work through time, what steps cost, the best plan, scores and progress. What is kept
of it lies in the store; no rule of the trade is here: the machine model makes the unit, the diagnosis judges.
"""
