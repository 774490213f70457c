"""How much air roots need by how warm they are (docs/methods.md, "air at rest")."""

import numpy as np

from kesh.geometry.outline import Floats

# roots breathe slower in the cold: so many times for ten kelvin [M, 2 to 2.5]; the air a layer needs falls with a power of it,
# between linear diffusion and Millington and Quirk [J]
Q10, AIR_POWER, WARM_C = 2.2, 0.75, 20.0


def air_need_at(need: float | Floats, celsius: Floats) -> Floats:
    """The air that a layer needs at a temperature, from what it needs at 20 degrees; shares of its volume."""
    return np.asarray(need * Q10 ** (AIR_POWER * (celsius - WARM_C) / 10))
