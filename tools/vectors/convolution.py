"""Reference values for partitionedResponse.test.ts: scipy.signal.fftconvolve of two signals that are told by a formula."""

import json
from pathlib import Path

import numpy as np
from scipy.signal import fftconvolve

frames, taps = 30000, 21000
n = np.arange(frames)
k = np.arange(taps)
x = (0.5 * np.sin(0.37 * n + 1e-5 * n * n)).astype(np.float32).astype(float)
h = (np.cos(1.3 * k) * np.exp(-k / 5000) * 0.01).astype(np.float32).astype(float)
y = fftconvolve(x, h)[:frames]
at = [0, 1, 64, 127, 128, 129, 255, 256, 1023, 1024, 1025, 2047, 4095, 4096, 4097, 5000, 8191, 8192, 12288, 16384, 20000, 21000, 25001, 29999]
out = Path(__file__).parents[2] / "src/core/signal/partitionedResponse.vectors.json"
out.write_text(json.dumps({"frames": frames, "taps": taps, "rms": float(np.sqrt(np.mean(y**2))), "at": at, "y": [float(y[i]) for i in at]}))
