"""Probes: the bytes they speak, the ways those bytes come in, what each shows now, and a machine that plays them.

What their readings mean is the core's to say; keeping what they said, the store's."""
