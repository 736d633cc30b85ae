"""Reference values for the smoothing filters, from SciPy.

Run: python3 reference/filters.py   (Debian: python3-scipy). Writes reference/filters.json, which is
committed, so that the tests need no Python.
"""
import json
import os

import numpy as np
import scipy
from scipy.ndimage import gaussian_filter1d
from scipy.signal import butter, filtfilt, savgol_filter

random = np.random.default_rng(20261125)
samples = 30 * np.sin(np.arange(80) / 7) + random.normal(0, 2, 80)


def savgol(half, degree):
    return {"half": half, "degree": degree, "expected": savgol_filter(samples, 2 * half + 1, degree, mode="interp").tolist()}


def gauss(sigma):
    return {"sigma": sigma, "expected": gaussian_filter1d(samples, sigma, mode="nearest", truncate=4.0).tolist()}


def lowpass(cutoff):
    b, a = butter(2, 2 * cutoff)
    return {"cutoff": cutoff, "expected": filtfilt(b, a, samples).tolist()}


data = {
    "scipy": scipy.__version__,
    "samples": samples.tolist(),
    "savgol": [savgol(2, 2), savgol(3, 3), savgol(7, 3), savgol(5, 4)],
    "gaussian": [gauss(0.8), gauss(2.0), gauss(6.5)],
    "butterworth": [lowpass(0.05), lowpass(0.2), lowpass(0.4)],
}
with open(os.path.join(os.path.dirname(os.path.abspath(__file__)), "filters.json"), "w") as out:
    json.dump(data, out, indent=1)
    out.write("\n")
