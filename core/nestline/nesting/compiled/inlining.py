"""Steps of inner loops: functions that stand by themselves to be read, and are compiled into whoever calls them.

A call that hands on arrays costs some thirty nanoseconds, of which an inner loop has none to spare.
"""

from numba import njit

inlined = njit(cache=True, inline="always")
