"""A fleet's worth of visits: those of an archive, examined unit by unit on Dask, as Parquet tables that any engine reads.

What a visit means is said by the core, what an archive holds by the exchange; here is only what goes where.
"""
