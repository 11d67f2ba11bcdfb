"""The computation: a visit goes in, an examination comes out (``examine``), or is compared with earlier ones (``history``).

Pure Python on plain arguments. No Flask, no sqlite3, no clock, no file but the refrigerant tables; nothing else of icepick.
"""
