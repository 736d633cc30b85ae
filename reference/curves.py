"""Reference values for the curve and rotation tests, from SciPy.

Run: python3 reference/curves.py   (Debian: python3-scipy). Writes reference/curves.json, which is committed,
so that the tests need no Python.
"""
import json
import os

import numpy as np
import scipy
from scipy.interpolate import CubicHermiteSpline, PchipInterpolator
from scipy.spatial.transform import Rotation

random = np.random.default_rng(20261124)


def hermite():
    times = np.cumsum(random.integers(1, 9, 12)).astype(float)
    values = random.uniform(-90, 90, 12)
    slopes = random.uniform(-12, 12, 12)
    at = np.linspace(times[0], times[-1], 101)
    return {
        "times": times.tolist(),
        "values": values.tolist(),
        "slopes": slopes.tolist(),
        "at": at.tolist(),
        "expected": CubicHermiteSpline(times, values, slopes)(at).tolist(),
    }


def monotone():
    """PCHIP uses the slopes of Fritsch & Butland (1984) inside and a limited three-point rule at the ends."""
    times = np.cumsum(random.integers(1, 9, 14)).astype(float)
    values = random.uniform(-90, 90, 14)
    curve = PchipInterpolator(times, values)
    at = np.linspace(times[0], times[-1], 141)
    return {
        "times": times.tolist(),
        "values": values.tolist(),
        "slopes": curve.derivative()(times).tolist(),
        "at": at.tolist(),
        "expected": curve(at).tolist(),
    }


def rotations():
    rows = []
    for order in ["XYZ", "XZY", "YXZ", "YZX", "ZXY", "ZYX"]:
        for _ in range(12):
            angles = random.uniform(-175, 175, 3)
            # Intrinsic turns in the named order; SciPy takes them in that order, ours are kept as x, y, z.
            ordered = [angles["XYZ".index(axis)] for axis in order]
            quat = Rotation.from_euler(order, ordered, degrees=True).as_quat()
            rows.append({"order": order, "angles": angles.tolist(), "quat": quat.tolist()})
    return rows


data = {"scipy": scipy.__version__, "hermite": hermite(), "monotone": monotone(), "rotations": rotations()}
with open(os.path.join(os.path.dirname(os.path.abspath(__file__)), "curves.json"), "w") as out:
    json.dump(data, out, indent=1)
    out.write("\n")
