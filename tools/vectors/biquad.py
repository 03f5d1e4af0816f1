"""Writes reference vectors of filter responses and filtered noise. Run with Debian's python3-scipy:
   /usr/bin/python3 tools/vectors/biquad.py > src/core/signal/biquad.vectors.json"""
import json
import numpy as np
import scipy
from scipy import signal

rate = 48000
frequencies = [30.0, 100.0, 440.0, 1000.0, 5000.0, 12000.0]
cases = []
for side in ("lowpass", "highpass"):
    for order in (1, 2, 3, 4, 6, 8):
        sos = signal.butter(order, 750, side, fs=rate, output="sos")
        _, h = signal.sosfreqz(sos, worN=frequencies, fs=rate)
        cases.append({"side": side[:-4], "order": order, "cutoff": 750,
                      "db": [max(-300.0, 20 * np.log10(abs(x) + 1e-300)) for x in h]})
noise = np.random.default_rng(7).standard_normal(256).astype(np.float32)
sos = signal.butter(4, 300, "highpass", fs=rate, output="sos")
print(json.dumps({
    "source": "scipy.signal.butter, sosfreqz, sosfilt", "version": scipy.__version__,
    "command": "python3 tools/vectors/biquad.py", "absTolerance": 1e-6,
    "sampleRate": rate, "frequencies": frequencies, "butterworth": cases,
    "noise": [float(x) for x in noise],
    "filtered": [float(x) for x in signal.sosfilt(sos, noise.astype(np.float64))],
}))
