"""The three classes of a mask, the same on the screen, in files and on the command line."""

import numpy as np
from numpy.typing import NDArray

BACKGROUND, FOLIAGE, WOOD = 0, 128, 255
Image = NDArray[np.uint8]
Mask = NDArray[np.uint8]
