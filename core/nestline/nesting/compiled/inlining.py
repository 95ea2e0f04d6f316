"""Functions that stand by themselves to be read, and are compiled into whoever calls them: steps of inner loops, and
parts of a search that has one caller.

A call that hands on arrays costs some thirty nanoseconds, of which an inner loop has none to spare. And whatever is
compiled by itself has all that it calls optimized once more: seven parts of the search for the middle took ten seconds
each.
"""

from numba import njit

inlined = njit(cache=True, inline="always")
