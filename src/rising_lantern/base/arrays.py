"""Kinds of arrays that modules hand to each other."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
"""Numbers, such as px or shares, of any shape."""

Flags = NDArray[np.bool_]
"""Whether something holds, for each of several."""

Indices = NDArray[np.intp]
"""Places in other arrays, in order."""
