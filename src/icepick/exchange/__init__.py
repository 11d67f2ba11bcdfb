"""What leaves the book and comes into it: archives of records, their tables, and what bringing one in would do.

How records are kept is the store's; what a visit means, the core's.
"""
