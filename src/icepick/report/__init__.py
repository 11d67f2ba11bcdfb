"""A visit on paper: first a page for the customer, then what the next technician reads.

It lays out what it is given; what a visit means is said by the core, and where its facts come from is the caller's.
"""
