"""The layout check written a second time, tree by tree in plain Python, from the text of the method alone."""

import math
from itertools import combinations, pairwise

import shapely

Spot = tuple[float, float]


def trap(x: float, a: float, b: float, c: float, d: float) -> float:
    if x <= a or x >= d:
        return 0.0
    if x < b:
        return (x - a) / (b - a)
    return 1.0 if x <= c else (d - x) / (d - c)


def clamp(x: float) -> float:
    return min(max(x, 0.0), 1.0)


def spread(values: list[float]) -> float:
    mean = sum(values) / len(values)
    return 0.0 if mean == 0 else math.sqrt(sum((v - mean) ** 2 for v in values) / len(values)) / mean


def mean_ranks(values: list[float]) -> list[float]:
    found = []
    for v in values:
        less = sum(o < v for o in values)
        same = sum(o == v for o in values)
        found.append(less + (same + 1) / 2)
    return found


def rho(a: list[float], b: list[float]) -> float:
    if len(set(a)) == 1 or len(set(b)) == 1:
        return 0.0
    ra, rb = mean_ranks(a), mean_ranks(b)
    ma, mb = sum(ra) / len(ra), sum(rb) / len(rb)
    top = sum((x - ma) * (y - mb) for x, y in zip(ra, rb, strict=True))
    return top / math.sqrt(sum((x - ma) ** 2 for x in ra) * sum((y - mb) ** 2 for y in rb))


def parts_of(spots: list[Spot], d: list[float], h: list[float], ring: list[Spot]) -> dict[str, float]:
    n = len(spots)
    tray = shapely.Polygon(ring)
    r = [max(18.0, 1.5 * v) for v in d]
    nearest = [min(math.dist(spots[i], spots[j]) for j in range(n) if j != i) for i in range(n)]
    flat = 0
    triples = list(combinations(spots, 3))
    for a, b, c in triples:
        longest = max(math.dist(a, b), math.dist(b, c), math.dist(a, c))
        twice = abs((b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1]))
        flat += longest == 0 or twice / longest**2 < 0.05
    over = sum(
        abs(p[0] - q[0]) < (dp + dq) / 2 for (p, dp), (q, dq) in combinations(list(zip(spots, d, strict=True)), 2)
    )
    xs = sorted(p[0] for p in spots)
    gaps = [b - a for a, b in pairwise(xs)]
    x0, y0, x1, y1 = tray.bounds
    main = max(range(n), key=lambda i: (d[i], h[i], -i))
    f = (spots[main][0] - x0) / (x1 - x0)
    limit = 1.5 * sorted(nearest)[n // 2] if n % 2 else 1.5 * sum(sorted(nearest)[n // 2 - 1 : n // 2 + 1]) / 2
    group = list(range(n))
    for i, j in combinations(range(n), 2):
        if math.dist(spots[i], spots[j]) <= limit:
            old, new = group[j], group[i]
            group = [new if g == old else g for g in group]
    sizes = sorted((group.count(g) for g in set(group)), reverse=True)
    s_groups = (0.5 if n >= 5 else 0.8) if len(sizes) == 1 else 1.0 if len(sizes) <= 3 else 0.6
    if len(sizes) > 1 and sizes[0] == sizes[1]:
        s_groups *= 0.6
    if n % 2 == 0 and n <= 10:
        s_groups *= 0.85
    step = (x1 - x0) / 100
    radius, edge = 0.0, tray.exterior
    for i in range(int((x1 - x0) / step) + 1):
        for j in range(int((y1 - y0) / step) + 1):
            p = (x0 + i * step, y0 + j * step)
            free = min(math.dist(p, q) - rq for q, rq in zip(spots, r, strict=True))
            if free > radius and tray.contains(shapely.Point(p)):
                radius = max(radius, min(free, edge.distance(shapely.Point(p))))
    lap = sum(max(0.0, r[i] + r[j] - math.dist(spots[i], spots[j])) for i, j in combinations(range(n), 2))
    out = 0.0
    for p, rp in zip(spots, r, strict=True):
        point = shapely.Point(p)
        signed = edge.distance(point) * (1 if tray.contains(point) else -1)
        out += max(0.0, rp - signed)
    return {
        "spacing": trap(spread(nearest), 0, 0.2, 0.6, 1.2),
        "collinear": clamp(1 - max(0.0, flat / len(triples) - 0.10) / 0.30),
        "front": 0.5 * clamp(1 - 2 * over / n) + 0.5 * trap(spread(gaps), 0, 0.2, 0.8, 1.6),
        "main": clamp(1 - 6 * min(abs(f - 1 / 3), abs(f - 2 / 3))),
        "depth": (1 - rho(d, [p[1] for p in spots])) / 2,
        "groups": s_groups,
        "void": trap(radius / math.sqrt(tray.area / math.pi), 0.10, 0.25, 0.50, 0.75),
        "fit": clamp(1 - 2 * (lap + out) / sum(r)),
    }  # fmt: skip


def score_of(parts: dict[str, float]) -> float:
    w = {
        "spacing": 0.18,
        "collinear": 0.14,
        "front": 0.16,
        "main": 0.12,
        "depth": 0.12,
        "groups": 0.08,
        "void": 0.08,
        "fit": 0.12,
    }
    found = 100.0
    for key, weight in w.items():
        found *= max(parts[key], 0.05) ** weight
    return found  # fmt: skip
