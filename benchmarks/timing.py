"""The time of a piece of work: the median of some runs."""

import statistics
import time


def median_ms(work, runs=15):
    out = []
    for _ in range(runs):
        start = time.perf_counter()
        work()
        out.append(time.perf_counter() - start)
    return 1e3 * statistics.median(out)
