"""What every fault, slight or grave, would show of a unit in a run's conditions, and how well each fits what was read.

Numbers against numbers, out of the machine model: no question is asked here and nothing is seen or heard; that belongs to
``diagnosis``, which weighs what this says with everything else.
"""
