"""Moving parts: cutaways to be worked by hand, with numbers that the machine model gives for the Handbook's own unit.

Here live what a part does when something is done to it, and the words for it; drawing is the screen's. What a visit's
readings say is not here.
"""
