"""
What SciPy's L-BFGS-B needs from the same starts: value reached and evaluations, for published test functions and for the
strain of demo shots, which a process of our own answers (reference/descent.ts). Run from the project's folder:

    python3 reference/descent.py > reference/descent.json

Needs Debian's python3-scipy.
"""
import json
import subprocess
import numpy
import scipy
from scipy.optimize import Bounds, minimize

asked = subprocess.Popen(
    ["node", "--conditions=kneader-source", "--import", "tsx", "reference/descent.ts"],
    stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True,
)


def answer(request):
    asked.stdin.write(json.dumps(request) + "\n")
    asked.stdin.flush()
    return json.loads(asked.stdout.readline())


cases = []
for case in answer({"list": True}):
    def both(x):
        found = answer({"name": case["name"], "x": list(map(float, x))})
        return float(found["value"]), numpy.array(found["slope"], dtype=float)

    low = numpy.array([-numpy.inf if one is None else one for one in case["low"]], dtype=float)
    high = numpy.array([numpy.inf if one is None else one for one in case["high"]], dtype=float)
    bounds = Bounds(low, high)
    options = {"maxcor": 10, "maxfun": case["most"], "maxiter": 10000, "gtol": 1e-9, "ftol": 0}
    found = minimize(both, numpy.array(case["start"], dtype=float), jac=True, method="L-BFGS-B", bounds=bounds, options=options)
    cases.append({"name": case["name"], "value": float(found.fun), "evaluations": int(found.nfev)})

asked.stdin.close()
print(json.dumps({"scipy": scipy.__version__, "cases": cases}, indent=2))
