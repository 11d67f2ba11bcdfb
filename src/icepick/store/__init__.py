"""What is recorded, in one SQLite file and plain SQL: a module for each resource, ``schema/`` brings the file up to date.

Appended, never overwritten. Nothing is worked out here but which row is in force.
"""
