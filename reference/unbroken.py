"""
The fewest keys with one slope each that can be had at all: for short curves every choice of keys is tried, and whether
values and slopes exist that stay within the tolerance at every sample, and half-way between two samples within their range
widened by it, is asked of SciPy's linprog (HiGHS). The first value stays. Run from the project's folder:

    python3 reference/unbroken.py > reference/unbroken.json

Needs Debian's python3-scipy.
"""
import itertools
import json
import numpy
import scipy
from scipy.optimize import linprog


def row(keys, time):
    """The value at a time as a row over (value, slope) of all keys: cubic Hermite."""
    n = max(i for i in range(len(keys) - 1) if keys[i] <= time or i == 0)
    h = keys[n + 1] - keys[n]
    x = (time - keys[n]) / h
    out = numpy.zeros(2 * len(keys))
    out[2 * n] = 2 * x**3 - 3 * x**2 + 1
    out[2 * n + 1] = (x**3 - 2 * x**2 + x) * h
    out[2 * n + 2] = 3 * x**2 - 2 * x**3
    out[2 * n + 3] = (x**3 - x**2) * h
    return out


def exists(samples, tolerance, keys):
    rows, bounds = [], []

    def within(time, low, high):
        one = row(keys, time)
        rows.extend([one, -one])
        bounds.extend([high, -low])

    for k in range(1, len(samples)):
        within(k, samples[k] - tolerance, samples[k] + tolerance)
        a, b = sorted(samples[k - 1 : k + 1])
        within(k - 0.5, a - tolerance, b + tolerance)
    first = row(keys, 0)
    found = linprog(
        numpy.zeros(2 * len(keys)), A_ub=rows, b_ub=bounds, A_eq=[first], b_eq=[samples[0]], bounds=(None, None), method="highs"
    )
    return found.status == 0


def least(samples, tolerance):
    last = len(samples) - 1
    for inside in range(last):
        for chosen in itertools.combinations(range(1, last), inside):
            if exists(samples, tolerance, [0, *chosen, last]):
                return inside + 2


chance = numpy.random.default_rng(19)
cases = []
for n in range(24):
    kind = ["walk", "noise", "swing", "step"][n % 4]
    count = 14
    if kind == "walk":
        samples = numpy.cumsum(chance.normal(0, 2, count))
    elif kind == "noise":
        samples = chance.normal(0, 1, count)
    elif kind == "swing":
        samples = 10 * numpy.sin(numpy.arange(count) * chance.uniform(0.3, 1.2)) + chance.normal(0, 0.3, count)
    else:
        samples = numpy.where(numpy.arange(count) < chance.integers(4, 10), 0.0, 8.0) + chance.normal(0, 0.1, count)
    samples = [round(float(value), 6) for value in samples]
    tolerance = [0.3, 0.6, 1.0][n % 3]
    cases.append({"kind": kind, "samples": samples, "tolerance": tolerance, "least": least(samples, tolerance)})
print(json.dumps({"scipy": scipy.__version__, "cases": cases}, indent=1))
