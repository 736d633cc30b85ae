"""Reference values for smoothing splines, from SciPy.

Run: python3 reference/splines.py   (Debian: python3-scipy). Writes reference/splines.json, which is
committed, so that the tests need no Python.
"""
import json
import os

import numpy as np
import scipy
from scipy.interpolate import make_smoothing_spline

random = np.random.default_rng(20261126)
times = np.cumsum(random.integers(1, 6, 24)).astype(float)
values = 20 * np.sin(times / 9) + random.normal(0, 2, 24)
weights = random.uniform(0.2, 3, 24)


def spline(lam, weighted):
    fit = make_smoothing_spline(times, values, w=weights if weighted else None, lam=lam)
    return {"lambda": lam, "weighted": weighted, "expected": fit(times).tolist()}


data = {
    "scipy": scipy.__version__,
    "times": times.tolist(),
    "values": values.tolist(),
    "weights": weights.tolist(),
    "splines": [spline(lam, weighted) for lam in (1e-3, 0.5, 20.0, 5000.0) for weighted in (False, True)],
}
with open(os.path.join(os.path.dirname(os.path.abspath(__file__)), "splines.json"), "w") as out:
    json.dump(data, out, indent=1)
    out.write("\n")
