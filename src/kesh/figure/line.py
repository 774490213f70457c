"""Smooth lines, strips and seeded chance for drawn trees. Each organ has its own generator."""

import hashlib

import numpy as np
from numpy.typing import NDArray

from kesh.geometry.outline import Floats

GENERATOR_VERSION = 1


class Chance:
    """Uniform numbers from a fixed bit generator, seeded by tree seed, organ name and index."""

    def __init__(self, seed: int, organ: str, index: int = 0) -> None:
        digest = hashlib.sha256(f"{GENERATOR_VERSION}/{seed}/{organ}/{index}".encode()).digest()
        self._bits = np.random.PCG64(int.from_bytes(digest[:16], "little"))

    def uniform(self, low: float = 0.0, high: float = 1.0) -> float:
        """One number."""
        return low + (high - low) * float((self._bits.random_raw() >> 11) / 2**53)

    def many(self, count: int, low: float = 0.0, high: float = 1.0) -> Floats:
        """An array of numbers."""
        raw = np.asarray(self._bits.random_raw(count), dtype=np.uint64) >> np.uint64(11)
        return low + (high - low) * raw.astype(np.float64) / 2**53

    def bell(self, count: int) -> Floats:
        """Bell-shaped numbers about 0 with a spread near 1, shaped from uniforms."""
        return np.asarray((self.many(count) + self.many(count) + self.many(count) - 1.5) * 2)


def smooth_line(points: Floats, count: int) -> Floats:
    """A smooth curve through control points (k, d), resampled to `count` points evenly along its arc."""
    padded = np.vstack([2 * points[0] - points[1], points, 2 * points[-1] - points[-2]])
    t = np.linspace(0, 1, 24, endpoint=False)[:, None]
    parts = []
    for i in range(1, len(padded) - 2):
        a, b, c, d = padded[i - 1], padded[i], padded[i + 1], padded[i + 2]
        parts.append(0.5 * (2 * b + (c - a) * t + (2 * a - 5 * b + 4 * c - d) * t**2 + (3 * b - a - 3 * c + d) * t**3))
    dense = np.vstack([*parts, points[-1:]])
    along = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(dense[:, :2], axis=0), axis=1))])
    wanted = np.linspace(0, along[-1], count)
    return np.column_stack([np.interp(wanted, along, dense[:, j]) for j in range(dense.shape[1])])


def normals(line: Floats) -> Floats:
    """Unit normals (n, 2) to the left of a line."""
    tangent = np.gradient(line[:, :2], axis=0)
    tangent /= np.maximum(np.linalg.norm(tangent, axis=1), 1e-9)[:, None]
    return np.column_stack([-tangent[:, 1], tangent[:, 0]])


def strip(line: Floats, radius: Floats) -> Floats:
    """The closed outline (2n, 2) of a line with a radius at every point."""
    side = normals(line) * radius[:, None]
    return np.vstack([line[:, :2] + side, (line[:, :2] - side)[::-1]])


def relaxed(line: Floats, radius: Floats, rounds: int = 60) -> Floats:
    """Smooth a line until its bend radius is at least 1.15 x the local radius (edges never cross)."""
    line = line.copy()
    for _ in range(rounds):
        first = np.gradient(line[:, :2], axis=0)
        second = np.gradient(first, axis=0)
        speed = np.maximum(np.linalg.norm(first, axis=1), 1e-9)
        bend = np.abs(first[:, 0] * second[:, 1] - first[:, 1] * second[:, 0]) / speed**3
        tight = bend * radius * 1.15 > 1
        tight[0] = tight[-1] = False
        if not np.any(tight):
            break
        wide: NDArray[np.bool_] = np.convolve(tight, np.ones(7), mode="same") > 0
        wide[0] = wide[-1] = False
        middle = (np.roll(line, 1, axis=0) + np.roll(line, -1, axis=0)) / 2
        line[wide] += 0.5 * (middle - line)[wide]
    return line


def wavy(count: int, chance: Chance, waves: tuple[tuple[int, float], ...]) -> Floats:
    """A closed noise line of `count` values from a few harmonics (number, amplitude)."""
    s = np.linspace(0, 2 * np.pi, count, endpoint=False)
    return np.asarray(sum((amp * np.sin(k * s + chance.uniform(0, 2 * np.pi)) for k, amp in waves), np.zeros(count)))
