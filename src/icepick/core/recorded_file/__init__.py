"""Files that probes and loggers wrote: read as they are, their columns given a meaning, made into a recording."""
