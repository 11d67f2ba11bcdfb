"""From checks and indicators to a verdict: hypotheses, the evidence for each, the ranking, what to read next, what to
rule out first, and the sentence on the ticket.

Measures nothing itself: what a number is belongs to ``indicators``, what it is held to belongs to ``checks``.
"""
