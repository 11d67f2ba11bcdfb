"""What goes in and what comes out: the visit and the examination, their stations, codes, units and words.

Shapes, ranges and refusals live here. Nothing is worked out of the readings.
"""
