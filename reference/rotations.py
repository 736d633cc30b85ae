"""Reference values for weighted means of rotations, from SciPy.

Run: python3 reference/rotations.py   (Debian: python3-scipy). Writes reference/rotations.json, which is
committed, so that the tests need no Python.
"""
import json
import os

import numpy as np
import scipy
from scipy.spatial.transform import Rotation

random = np.random.default_rng(20261126)


def mean(count, spread):
    about = Rotation.random(random_state=int(random.integers(1e6)))
    turns = Rotation.from_rotvec(random.normal(0, spread, (count, 3))) * about
    weights = random.uniform(0.05, 3, count)
    return {
        "turns": turns.as_quat().tolist(),
        "weights": weights.tolist(),
        "expected": turns.mean(weights).as_quat().tolist(),
    }


data = {
    "scipy": scipy.__version__,
    "means": [mean(count, spread) for count in (2, 3, 5, 9) for spread in (0.1, 0.6, 1.2)],
}
with open(os.path.join(os.path.dirname(os.path.abspath(__file__)), "rotations.json"), "w") as out:
    json.dump(data, out, indent=1)
    out.write("\n")
