"""A pot measured from its photograph: pots of known size before several grounds, the figures inside their plus and minus."""

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray

from kesh.photo.pot_shot import pot_frame, pot_measured, pot_seen
from kesh.photo.read import PhotoError

Picture = NDArray[np.uint8]
PX_MM = 2.0


def picture(
    length: float, foot: float, height: float, feet: float = 0.0, *, ground: str = "cloth", colour: tuple[int, int, int] = (112, 74, 58), seed: int = 1,
    belly: float = 0.0, from_above_deg: float = 0.0, deep: float = 0.0, square: bool = False, inside: tuple[int, int, int] = (58, 46, 38),
) -> Picture:  # fmt: skip
    """A pot drawn by hand: a body with shading, two feet, before a cloth, boards or a lawn, with grain and a soft lens."""
    rng = np.random.default_rng(seed)
    wide, high = 1100, 800
    y, x = np.mgrid[0:high, 0:wide].astype(float)
    if ground == "cloth":
        made = np.stack([205 + 0.02 * x, 200 + 0.02 * x, 190 + 0.01 * y], axis=2)
    elif ground == "boards":
        made = np.stack([np.full_like(x, c) for c in (168.0, 150.0, 124.0)], axis=2)
        made -= 22.0 * ((y % 90) < 3)[..., None]
        made += 6.0 * np.sin(x / 37 + (y // 90) * 2)[..., None]
    else:
        made = np.stack([np.full_like(x, c) for c in (88.0, 120.0, 62.0)], axis=2)
        made += rng.normal(0, 16, (high, wide, 1))
    middle, top = wide / 2 + 17, 260.0
    bottom = top + (height - feet) * PX_MM
    t = np.linspace(0, 1, 60)
    half = (length * (1 - t) + foot * t) / 2 + belly * 4 * t * (1 - t)
    right = np.column_stack([middle + half * PX_MM, top + t * (bottom - top)])
    left = np.column_stack([middle - half[::-1] * PX_MM, (top + t * (bottom - top))[::-1]])
    shapes = [np.vstack([right, left])]
    if feet:
        for side in (-1, 1):
            at = middle + side * 0.36 * foot * PX_MM
            w = 0.1 * foot * PX_MM
            shapes.append(
                np.array(
                    [
                        [at - w, bottom],
                        [at + w, bottom],
                        [at + w, bottom + feet * PX_MM],
                        [at - w, bottom + feet * PX_MM],
                    ]
                )
            )
    hollow: list[Picture] = []
    if from_above_deg:
        # the same pot seen by a camera above its rim: rim and foot become rings, the wall is foreshortened
        sine, cosine = np.sin(np.radians(from_above_deg)), np.cos(np.radians(from_above_deg))
        a = np.linspace(0, 2 * np.pi, 240)
        power = 0.12 if square else 1.0
        ring = np.column_stack(
            [np.sign(np.cos(a)) * np.abs(np.cos(a)) ** power, np.sign(np.sin(a)) * np.abs(np.sin(a)) ** power]
        )
        low = top + deep * sine * PX_MM / 2 + (height - feet) * cosine * PX_MM
        rim = ring * [length / 2, deep / 2 * sine] * PX_MM + [middle, top + deep * sine * PX_MM / 2]
        base = ring * [foot / 2, deep * foot / length / 2 * sine] * PX_MM + [middle, low]
        hull = cv2.convexHull(np.vstack([rim, base]).astype(np.float32))[:, 0]
        shapes, bottom = [hull], low
        hollow = [
            (rim - [middle, top + deep * sine * PX_MM / 2]) * [0.94, 0.9] + [middle, top + deep * sine * PX_MM / 2]
        ]
    body = np.zeros((high, wide), np.uint8)
    for shape in shapes:
        cv2.fillPoly(body, [np.round(shape * 8).astype(np.int32)], 255, shift=3)
    shade = 0.75 + 0.45 * np.exp(-(((x - middle + 0.15 * length * PX_MM) / (0.35 * length * PX_MM)) ** 2))
    pot = np.stack([c * shade for c in colour], axis=2) + rng.normal(0, 5, (high, wide, 1))
    for ring_ in hollow:
        hole = np.zeros((high, wide), np.uint8)
        cv2.fillPoly(hole, [np.round(ring_ * 8).astype(np.int32)], 255, shift=3)
        pot = np.where((hole > 0)[..., None], np.array(inside) + rng.normal(0, 6, (high, wide, 1)), pot)
    alpha = (cv2.GaussianBlur(body, (0, 0), 0.9) / 255.0)[..., None]
    whole = made * (1 - alpha) + pot * alpha + rng.normal(0, 3, (high, wide, 3))
    return np.ascontiguousarray(np.clip(whole, 0, 255).astype(np.uint8)[:, :, ::-1])


def frame(length: float, height: float, slack: float = 0.08) -> tuple[float, float, float, float]:
    middle = 1100 / 2 + 17
    half = length * PX_MM * (0.5 + slack)
    return middle - half, 260 - slack * length * PX_MM, middle + half, 260 + height * PX_MM + slack * length * PX_MM


@pytest.mark.parametrize("ground", ["cloth", "boards", "lawn"])
@pytest.mark.parametrize(
    ("length", "foot", "height", "feet"), [(300, 260, 70, 8), (380, 340, 55, 6), (220, 220, 160, 0), (260, 180, 95, 9)]
)
def test_the_truth_lies_inside_plus_and_minus(
    ground: str, length: float, foot: float, height: float, feet: float
) -> None:
    seen = pot_seen(picture(length, foot, height, feet, ground=ground), frame(length, height))
    found = pot_measured(seen, PX_MM, 0.004)
    for figure, truth in ((found.length, length), (found.height, height)):
        assert abs(figure.value - truth) <= figure.doubt, (figure, truth)
        assert figure.doubt <= 0.08 * truth
    assert abs(found.inset.value - (length - foot) / 2) <= found.inset.doubt + 1.0
    assert abs(found.feet.value - feet) <= found.feet.doubt + 0.5


def test_a_frame_drawn_loosely_finds_the_same_pot() -> None:
    image = picture(300, 260, 70, 8)
    close, loose = (pot_measured(pot_seen(image, frame(300, 70, slack)), PX_MM, 0.004) for slack in (0.04, 0.16))
    assert close.length.value == pytest.approx(loose.length.value, rel=0.015)
    assert close.height.value == pytest.approx(loose.height.value, rel=0.03)


def test_a_belly_is_told_from_a_straight_wall_and_the_colour_is_the_walls() -> None:
    round_ = pot_measured(
        pot_seen(picture(240, 200, 120, belly=26, colour=(60, 88, 130)), frame(310, 120)), PX_MM, 0.004
    )
    plain = pot_measured(pot_seen(picture(240, 200, 120), frame(240, 120)), PX_MM, 0.004)
    assert (round_.profile, plain.profile) == ("bowed", "straight")
    r, g, b = (int(round_.colour[i : i + 2], 16) for i in (1, 3, 5))
    assert b > g > r


def test_a_poorer_scale_widens_every_figure() -> None:
    seen = pot_seen(picture(300, 260, 70, 8), frame(300, 70))
    sure, unsure = pot_measured(seen, PX_MM, 0.004), pot_measured(seen, PX_MM, 0.05)
    assert unsure.length.doubt > 2 * sure.length.doubt
    assert unsure.length.value == sure.length.value


def test_where_no_pot_is_found_it_is_told_what_helps() -> None:
    image = picture(300, 260, 70)
    with pytest.raises(PhotoError, match="too small"):
        pot_seen(image, (10, 10, 20, 15))
    with pytest.raises(PhotoError, match=r"cloth|ground"):
        pot_seen(image, (440, 270, 600, 340))


@pytest.mark.parametrize("ground", ["cloth", "boards", "lawn"])
@pytest.mark.parametrize("colour", [(112, 74, 58), (50, 80, 140), (200, 190, 170), (150, 132, 108)])
def test_without_a_frame_the_pot_is_found_or_nothing_is_said_of_it(ground: str, colour: tuple[int, int, int]) -> None:
    """A pot of the colour of its ground is a question and no figure."""
    image = picture(300, 260, 70, 8, ground=ground, colour=colour)
    at = pot_frame(image)
    if at is None:
        return
    try:
        found = pot_measured(pot_seen(image, at), PX_MM, 0.004)
    except PhotoError:
        # it says so; what it says is looked at above
        return
    assert abs(found.length.value - 300) <= found.length.doubt
    assert abs(found.height.value - 70) <= found.height.doubt


def test_most_pots_need_no_frame() -> None:
    found = [pot_frame(picture(300, 260, 70, 8, ground=g)) for g in ("cloth", "boards", "lawn")]
    for at in found:
        assert at is not None
        left, top, right, bottom = at
        assert (left, -right) < (1100 / 2 + 17 - 300, 0)
        assert right > 1100 / 2 + 17 + 300
        assert top < 260
        assert bottom > 400


@pytest.mark.parametrize("square", [False, True])
@pytest.mark.parametrize("angle", [4.0, 8.0, 14.0, 20.0])
@pytest.mark.parametrize(
    ("length", "foot", "height", "deep"), [(300, 260, 70, 220), (220, 200, 120, 180), (380, 340, 55, 290)]
)
def test_a_rim_seen_from_above_widens_the_height_until_it_holds_the_truth(
    square: bool, angle: float, length: float, foot: float, height: float, deep: float
) -> None:
    image = picture(length, foot, height, from_above_deg=angle, deep=deep, square=square, seed=3)
    tall = height + deep * np.sin(np.radians(angle))
    found = pot_measured(pot_seen(image, frame(length, float(tall))), PX_MM, 0.004)
    assert abs(found.height.value - height) <= found.height.doubt, (found.height, height)
    assert abs(found.length.value - length) <= found.length.doubt
    assert abs(found.inset.value - (length - foot) / 2) <= found.inset.doubt + 1.0, found.inset
    assert found.profile == "straight"
    if angle >= 8:
        assert found.opening_mm > 0


def test_a_pot_seen_level_has_no_line_across_it() -> None:
    for ground in ("cloth", "boards", "lawn"):
        assert pot_seen(picture(300, 260, 70, 8, ground=ground), frame(300, 70)).opening == 0
