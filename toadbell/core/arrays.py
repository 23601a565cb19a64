"""Arrays of numbers by what they hold. numpy's own names for them are for the type checker: they take long to load."""

from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Array = NDArray[np.float64]
    Places = NDArray[np.int64]
    Flags = NDArray[np.bool_]
else:
    Array = Places = Flags = np.ndarray
