"""The eye that looks at turning bodies, and the lamp that stays with it: one for every picture that turns."""

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
LAMP = np.array([-0.45, -0.55, 0.75])
SHADE, LIGHT = 0.52, 0.58


def view_matrix(yaw_deg: float, pitch_deg: float) -> Floats:
    """From mm (x right, y back, z up) to what the eye sees: right, away from the eye, up.

    Yaw turns a body about its axis, pitch lifts the eye (0 level, 90 from above); parallel view.
    """
    a, e = np.radians(yaw_deg), np.radians(pitch_deg)
    ca, sa, ce, se = np.cos(a), np.sin(a), np.cos(e), np.sin(e)
    # x right, y away from the eye, z up, after turning; then the eye is lifted
    turn = np.array([[ca, -sa, 0], [sa, ca, 0], [0, 0, 1.0]])
    lift = np.array([[1, 0, 0], [0, ce, -se], [0, se, ce]])
    return np.asarray(lift @ turn)


def lit(normals: Floats) -> Floats:
    """How bright faces are, (k,), by their normals (k, 3) as the eye has them: turning a body lets light run over it."""
    lamp = LAMP / np.linalg.norm(LAMP)
    return np.asarray(SHADE + LIGHT * np.maximum(normals @ lamp, 0))
