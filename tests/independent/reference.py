"""The methods written out a second time, slowly and plainly, sharing no code with Kesh but its fact tables.

One slice at a time, one cell at a time; loops where Kesh has arrays. It reads a bundle and gives the figures that the
report must agree with. Rectangles and ellipses only: their offsets are points along the normal.
"""

import csv
import math
from importlib.resources import files
from itertools import pairwise
from typing import Any

SLICES = 1500


def table(name: str) -> dict[str, dict[str, str]]:
    text = files("kesh.reference").joinpath("tables", f"{name}.csv").read_text(encoding="utf-8")
    return {row["key"]: row for row in csv.DictReader(text.splitlines())}


def row_of(name: str, key: str, own: list[dict[str, Any]]) -> dict[str, Any]:
    found: dict[str, Any] = {k: v for k, v in table(name).get(key, {}).items() if v != ""}
    for extra in own:
        if extra["key"] == key:
            found |= {k: v for k, v in extra.items() if v is not None}
    return found


# --- pot -----------------------------------------------------------------------------------------------------------


def inset(pot: dict[str, Any], u: float) -> float:
    p = pot["profile"]
    kind, base = p["kind"], p.get("base_inset_mm", 0.0)
    if kind == "tube":
        return 0.0
    if kind == "bowed":
        return base * (1 - u) - 4 * p["belly_mm"] * u * (1 - u)
    if kind == "lip":
        at, g = p.get("lip_height_share", 0.8), p["lip_offset_mm"]
        return base + (g - base) * u / at if u <= at else g * (1 - ((u - at) / (1 - at)) ** 2)
    return base * (1 - u)


def area(pot: dict[str, Any], q: float) -> float:
    """Area of the outline at a parallel offset q, by Steiner for ellipses."""
    length, width = pot["length_mm"], pot["width_mm"]
    if pot["outline"]["kind"] == "rectangle":
        r = pot["outline"].get("corner_mm", 0.0)
        return (length - 2 * q) * (width - 2 * q) - (4 - math.pi) * max(r - q, 0.0) ** 2
    a, b, n = length / 2, width / 2, 4000
    around = sum(
        math.hypot(a * math.sin(2 * math.pi * (i + 0.5) / n), b * math.cos(2 * math.pi * (i + 0.5) / n))
        for i in range(n)
    )
    return math.pi * a * b - around * 2 * math.pi / n * q + math.pi * q * q


def body_height(pot: dict[str, Any]) -> float:
    return pot["height_mm"] - pot["feet_mm"]


def inner_depth(pot: dict[str, Any]) -> float:
    return body_height(pot) - pot["floor_mm"]


def inner_area(pot: dict[str, Any], z: float) -> float:
    return area(pot, inset(pot, (z + pot["floor_mm"]) / body_height(pot)) + pot["wall_mm"])


def slices(pot: dict[str, Any], low: float, high: float, count: int = SLICES) -> list[tuple[float, float]]:
    """(middle height, volume in l) of slices; the perimeter sum of an ellipse is only done at a few levels."""
    step = (high - low) / count
    if pot["outline"]["kind"] == "rectangle":
        return [(low + (i + 0.5) * step, inner_area(pot, low + (i + 0.5) * step) * step / 1e6) for i in range(count)]
    a, p1 = area(pot, 0.0), (area(pot, 0.0) - area(pot, 1.0) + math.pi) / 1.0
    found = []
    for i in range(count):
        z = low + (i + 0.5) * step
        q = inset(pot, (z + pot["floor_mm"]) / body_height(pot)) + pot["wall_mm"]
        found.append((z, (a - p1 * q + math.pi * q * q) * step / 1e6))
    return found


def volume_l(pot: dict[str, Any], high: float) -> float:
    return sum(v for _, v in slices(pot, 0.0, high))


# --- mix -----------------------------------------------------------------------------------------------------------


def mixed(parts: list[tuple[dict[str, Any], float]]) -> dict[str, float]:
    parts = [(r, v) for r, v in parts if v > 0]
    total = sum(v for _, v in parts)
    rows = []
    for r, v in parts:
        phi = float(r["inter_particle_porosity"])
        lo, hi = float(r["size_low_mm"]), float(r["size_high_mm"])
        d = lo if lo == hi else math.log(hi / lo) / (1 / lo - 1 / hi)
        rows.append(
            {
                "v": v / total, "phi": phi, "p": float(r["intra_particle_porosity"]) / (1 - phi), "lo": lo, "hi": hi, "d": d,
                "rho": float(r["dry_bulk_density_g_per_l"]) / 1000, "us": float(r["intra_water_available_fraction"]),
            }
        )  # fmt: skip
    s = [x["v"] * (1 - x["phi"]) for x in rows]
    y = [x / sum(s) for x in s]
    order = sorted(range(len(rows)), key=lambda i: -rows[i]["d"])
    beta = [(1 - x["phi"]) * (1 + 1 / 4.12) for x in rows]
    gamma = []
    for place, i in enumerate(order):
        under = 1.0
        for other, j in enumerate(order):
            di, dj = rows[i]["d"], rows[j]["d"]
            if other < place:
                wall = 1 - (1 - di / dj) ** 1.5
                under -= (1 - beta[i] + wall * beta[i] * (1 - 1 / beta[j])) * y[j]
            elif other > place:
                loose = math.sqrt(1 - (1 - dj / di) ** 1.02)
                under -= (1 - loose * beta[i] / beta[j]) * y[j]
        gamma.append((i, beta[i] / under))
    low, high = 1e-6, min(g for _, g in gamma) * (1 - 1e-12)
    for _ in range(200):
        phi = (low + high) / 2
        k = sum((y[i] / beta[i]) / (1 / phi - 1 / g) for i, g in gamma)
        low, high = (phi, high) if k < 4.12 else (low, phi)
    packing = (low + high) / 2 if len(rows) > 1 else 1 - rows[0]["phi"]
    d_mix = 1 / sum(yi / x["d"] for yi, x in zip(y, rows, strict=True))
    logs = [math.log(math.sqrt(x["lo"] * x["hi"])) for x in rows]
    mean = sum(yi * g for yi, g in zip(y, logs, strict=True))
    spread = sum(
        yi * ((g - mean) ** 2 + math.log(x["hi"] / x["lo"]) ** 2 / 12) for yi, g, x in zip(y, logs, rows, strict=True)
    )
    points = [(0.1527, 428.0), (0.3466, 246.0), (0.6931, 135.0), (1.386, 65.0), (3.054, 25.0)]
    if d_mix <= points[0][0]:
        rise = points[0][1] * points[0][0] / d_mix
    elif d_mix >= points[-1][0]:
        rise = points[-1][1] * points[-1][0] / d_mix
    else:
        for (d0, h0), (d1, h1) in pairwise(points):
            if d0 <= d_mix <= d1:
                share = math.log(d_mix / d0) / math.log(d1 / d0)
                rise = math.exp(math.log(h0) + share * math.log(h1 / h0))
    phi_e = 1 - packing
    rise *= ((1 - phi_e) / phi_e) / (0.59 / 0.41)
    loss = sum(s) / packing
    return {
        "phi_e": phi_e,
        "phi_int": packing * sum(yi * x["p"] for yi, x in zip(y, rows, strict=True)),
        "use": packing * sum(yi * x["p"] * x["us"] for yi, x in zip(y, rows, strict=True)),
        "dry": sum(x["v"] * x["rho"] for x in rows) / loss,
        "loss": 1 - loss,
        "rise": rise,
        "n": min(6.0, max(1.8, 1 + 1.2 / math.sqrt(spread + 0.09))),
        "ks": 998.2 * 9.81 * (phi_e**3 * (d_mix / 1000) ** 2 / (180 * (1 - phi_e) ** 2)) / 1.002e-3 * 1000,
    }


def se(mix: dict[str, float], h: float) -> float:
    return (1 + (max(h, 0.0) / mix["rise"]) ** mix["n"]) ** (1 / mix["n"] - 1)


def theta(mix: dict[str, float], h: float) -> float:
    return mix["phi_e"] * (0.08 + 0.92 * se(mix, h)) + mix["phi_int"]


def z85(mix: dict[str, float]) -> float:
    m = 1 - 1 / mix["n"]
    return mix["rise"] * ((0.77 / 0.92) ** (-1 / m) - 1) ** (1 / mix["n"])


def water(
    pot: dict[str, Any], mix: dict[str, float], depth: float, mound: float, layer: tuple[dict[str, float], float] | None
) -> dict[str, float]:
    base, h_i = 0.0, 0.0
    if layer:
        base, h_i = layer[1], min(layer[1], 1.5 * layer[0]["rise"])
    held = avail = soil = third_w = third_v = wet = 0.0
    zone = max(0.0, z85(mix) - h_i)
    for z, v in slices(pot, base, depth):
        h = z - base + h_i
        held += v * theta(mix, h)
        avail += v * (mix["phi_e"] * 0.92 * se(mix, h) + mix["use"])
        soil += v
        wet += v if z - base <= zone else 0.0
        if z <= base + (depth - base) / 3:
            third_w += v * theta(mix, h)
            third_v += v
    if mound > 0:
        top, n = inner_area(pot, depth), 600
        for i in range(n):
            q = (i + 0.5) * mound / n
            v, h = top * (1 - q / mound) * mound / n / 1e6, depth - base + h_i + q
            held += v * theta(mix, h)
            avail += v * (mix["phi_e"] * 0.92 * se(mix, h) + mix["use"])
            soil += v
            wet += v if depth - base + q <= zone else 0.0
    pores = mix["phi_e"] + mix["phi_int"]
    return {
        "held": held, "available": avail, "soil": soil, "air": pores - held / soil, "third": pores - third_w / third_v,
        "wet_height": zone, "wet_share": wet / soil,
    }  # fmt: skip


# --- roots ---------------------------------------------------------------------------------------------------------


def inside_pot(pot: dict[str, Any], q: float, x: float, y: float) -> bool:
    """Whether a point lies inside the outline offset inward by q."""
    a, b = pot["length_mm"] / 2, pot["width_mm"] / 2
    if pot["outline"]["kind"] == "rectangle":
        r = max(pot["outline"].get("corner_mm", 0.0) - q, 0.0)
        dx, dy = abs(x) - (a - q - r), abs(y) - (b - q - r)
        if dx <= 0 or dy <= 0:
            return dx <= r and dy <= r
        return math.hypot(dx, dy) <= r
    if (x / a) ** 2 + (y / b) ** 2 >= 1:
        return False
    # distance to the ellipse by Newton on the angle of the nearest point
    x, y, t = abs(x), abs(y), math.atan2(a * abs(y), b * abs(x))
    for _ in range(12):
        f = (b * b - a * a) * math.sin(t) * math.cos(t) + a * x * math.sin(t) - b * y * math.cos(t)
        df = (b * b - a * a) * math.cos(2 * t) + a * x * math.cos(t) + b * y * math.sin(t)
        t -= f / df if df else 0.0
        t = min(max(t, 0.0), math.pi / 2)
    return math.hypot(a * math.cos(t) - x, b * math.sin(t) - y) >= q


def roots(
    pot: dict[str, Any], r: dict[str, Any], plant: dict[str, float], cells: int = 110, levels: int = 12
) -> dict[str, float]:
    inner, depth = inner_depth(pot), r["depth_mm"]
    kept = min(depth, inner + plant["raise_mm"] - plant["base"])
    heights = [
        max(0.0, min(inner, inner + plant["raise_mm"] - kept))
        + (inner - max(0.0, min(inner, inner + plant["raise_mm"] - kept))) * i / 400
        for i in range(401)
    ]
    q = max(inset(pot, (z + pot["floor_mm"]) / body_height(pot)) for z in heights) + pot["wall_mm"] + plant["clearance"]
    a, b = r["length_mm"] / 2, r["width_mm"] / 2
    box = r["outline"]["kind"] == "rectangle"
    full_v = full_f = kept_v = kept_f = 0.0
    for i in range(cells):
        for j in range(cells):
            x = r["offset_x_mm"] - a + 2 * a * (i + 0.5) / cells
            y = r["offset_y_mm"] - b + 2 * b * (j + 0.5) / cells
            free = inside_pot(pot, q, x + plant["x"], y + plant["y"])
            for k in range(levels):
                zd = (k + 0.5) / levels
                shrink = 1 - r["taper"] * zd
                far = reach(a * shrink, b * shrink, r["offset_x_mm"], r["offset_y_mm"], x, y, box)
                rr = math.hypot(x, y) / far if far > 0 else 9.0
                if rr > 1:
                    continue
                f = {
                    "even": 1.0,
                    "near_trunk": 2 * (1 - rr * rr) * (1.5 - zd),
                    "outside_bottom": 2 * rr * rr * (0.5 + zd),
                }[r["feeders"]]
                share = min(max((kept - k * depth / levels) / (depth / levels), 0.0), 1.0) if free else 0.0
                full_v, full_f, kept_v, kept_f = full_v + 1, full_f + f, kept_v + share, kept_f + f * share
    return {"kept": kept, "off": depth - kept, "q": q, "volume": 1 - kept_v / full_v, "feeders": 1 - kept_f / full_f}


def reach(a: float, b: float, cx: float, cy: float, x: float, y: float, box: bool) -> float:
    """From the trunk along a ray through (x, y) to the edge of the root mass."""
    away = math.hypot(x, y)
    if away < 1e-9:
        return 1e9
    ux, uy = x / away, y / away
    if box:
        far = []
        for c, half, u in ((cx, a, ux), (cy, b, uy)):
            if abs(u) > 1e-12:
                far.append((c + (half if u > 0 else -half)) / u)
        return min(far)
    aa = (ux / a) ** 2 + (uy / b) ** 2
    bb = -2 * (ux * cx / a**2 + uy * cy / b**2)
    cc = (cx / a) ** 2 + (cy / b) ** 2 - 1
    return (-bb + math.sqrt(bb * bb - 4 * aa * cc)) / (2 * aa)
