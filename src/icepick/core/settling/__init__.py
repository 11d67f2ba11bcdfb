"""Whether what a probe shows has come to rest: how much is still to come, judged from its last two minutes against its noise.

What a settled reading means is not decided here: the checks have their own clock for readings that were typed."""
