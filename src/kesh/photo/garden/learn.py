"""Which pixels inside a loop are tree: colour and texture of tree and ground, learnt in turns from one another.

Outside the loop all is ground. Inside, what outside is rarely seen begins as tree, with the stem above the soil mark.
Then, by expectation and maximisation (Dempster, Laird and Rubin 1977), shares of colours and textures are counted anew
for tree and ground, each pixel by how likely it is either, about its place and over the whole; shade of the ground's
own colours counts as ground. Neighbours speak for each other a little in every turn.
"""

from collections.abc import Callable

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.photo.classes import Image
from kesh.photo.garden import cells
from kesh.photo.garden.cells import Ints
from kesh.photo.garden.setting import Setting
from kesh.photo.view import Real

Bools = NDArray[np.bool_]
AGAIN = 3
# all wood that is certain counts together at most as this share of what else is tree, or as it is
STEM_SHARE = 0.5
SHADES = (0.82, 0.68, 0.55)
MOST_COLOUR, MOST_TEXTURE, MOST_START, SURE = 5.0, 2.0, 1.5, 4.0
# nobody draws a loop along the tree's very edge: log odds there, and the share of the height over which that fades
AT_LOOP, NEAR_LOOP = -2.0, 0.018


def log_odds(
    picture: Image, inside: Bools, outside: Bools, stem: Bools, how: Setting, tell: Callable[[], None],
    follow: Callable[[Real], Bools] | None = None,
) -> Real:  # fmt: skip
    """Log odds of tree against ground (H, W) of a BGR picture, -4..4; -4 outside the loop.

    `outside` shows ground for certain, `stem` wood; what is neither inside nor outside is left out. Deterministic.
    `tell` is called every turn; what it raises stops the work. `follow` is shown the log odds after all turns and may
    say what else is wood for certain; then some turns more are taken.
    """
    learner = _Learner(picture, inside, outside, stem, how)
    found = learner.learnt(tell, None, how.turns)
    if follow is None:
        return found
    learner.know(follow(found))
    return learner.learnt(tell, found, AGAIN)


class _Learner:
    """Cells of all pixels that are asked, and the counts of ground outside."""

    def __init__(self, picture: Image, inside: Bools, outside: Bools, stem: Bools, how: Setting) -> None:
        self._how, self._inside = how, inside
        colour = np.asarray(picture, np.float32) / np.float32(255)
        lab = np.asarray(cv2.cvtColor(colour, cv2.COLOR_BGR2Lab), np.float32)
        known = inside | outside
        soft = [np.asarray(c, np.float32) for c in cv2.split(cv2.GaussianBlur(lab, (0, 0), how.soften_px))]
        self._axes = [cells.Axis.over(c[known][::7], n) for c, n in zip(soft, cells.COLOUR, strict=True)]
        grain = cells.textures(np.ascontiguousarray(lab[..., 0]))
        axes = [cells.Axis.over(c[known][::7], n) for c, n in zip(grain, cells.TEXTURE, strict=True)]
        hue, tex, place = cells.cell(soft, self._axes), cells.cell(grain, axes), cells.places(inside.shape)
        self._hue, self._tex, self._place = hue[inside], tex[inside], place[inside]
        self._stem = stem[inside]
        self._ground_tex = tex[outside]
        self._share = np.float32(min(1.0, len(self._hue) / max(int(outside.sum()), 1)))
        self._seen(colour, outside, hue, place)
        away = cv2.distanceTransform(np.pad(inside, 1).astype(np.uint8), cv2.DIST_L2, 3)[1:-1, 1:-1]
        self._prior = (AT_LOOP * np.exp(-away / (NEAR_LOOP * inside.shape[0])))[inside].astype(np.float32)
        self._weight = np.maximum(cv2.GaussianBlur(inside.astype(np.float32), (0, 0), how.spread_px), 1e-3)[inside]

    def _seen(self, colour: Real, outside: Bools, hue: Ints, place: Ints) -> None:
        """Every second pixel outside, and some of them as they would look in shade."""
        chosen = np.flatnonzero(outside)[::2]
        hues, at, weights = [hue.ravel()[chosen]], [place.ravel()[chosen]], [np.full(len(chosen), 2, np.float32)]
        few = chosen[::3]
        bright = cv2.GaussianBlur(colour, (0, 0), self._how.soften_px).reshape(-1, 3)[few]
        for shade in SHADES if self._how.shadow and len(few) else ():
            dark = cv2.cvtColor((bright * np.float32(shade))[None], cv2.COLOR_BGR2Lab)[0]
            hues.append(cells.cell(list(dark.T), self._axes))
            at.append(place.ravel()[few])
            weights.append(np.full(len(few), 6 * self._how.shadow, np.float32))
        self._plain = len(chosen)
        self._ground_hue, self._ground_at = np.concatenate(hues), np.concatenate(at)
        self._ground_weight = np.concatenate(weights) * self._share

    def know(self, wood: Bools) -> None:
        """More is wood for certain."""
        self._stem = self._stem | wood[self._inside]

    def learnt(self, tell: Callable[[], None], start: Real | None, turns: int) -> Real:
        """The log odds after some turns, from a start of its own or from other log odds (H, W)."""
        how = self._how
        odds = self._start() if start is None else start[self._inside]
        for turn in range(turns):
            tell()
            likely = (1 / (1 + np.exp(-odds))).astype(np.float32)
            mixed = how.spread if turn < turns - 1 else how.last_spread
            odds = self._mixed(self._asked(likely), mixed)
        found = np.full(self._inside.shape, -SURE, np.float32)
        found[self._inside] = np.clip(odds, -SURE, SURE)
        return found

    def _start(self) -> Real:
        how = self._how
        whole = cells.colour_shares(self._ground_hue, self._ground_weight)
        own = cells.colour_shares(self._hue)
        usual = np.quantile(np.log(own / whole)[self._ground_hue[: self._plain]], how.rare)
        grain = np.log(cells.texture_shares(self._tex) / cells.texture_shares(self._ground_tex))
        colour = np.log(own[self._hue] / self._ground(np.zeros(len(self._hue), np.float32)))
        odds = colour + how.texture * np.clip(grain, -MOST_START, MOST_START)[self._tex] - usual - how.margin
        return np.asarray(np.clip(2 * (self._spread(odds.astype(np.float32)) + self._prior), -6, 6), np.float32)

    def _asked(self, likely: Real) -> Real:
        """Log odds of every pixel by what is counted with these likelihoods."""
        how = self._how
        # a small patch of stem must not drown in leaves, nor leaves behind a long trunk
        leaves = float(likely[~self._stem].sum())
        each = np.clip(STEM_SHARE * leaves / max(int(np.count_nonzero(self._stem)), 1), 1.0, how.seed)
        weight = np.where(self._stem, np.float32(each), likely)
        whole = cells.colour_shares(self._hue, weight)
        here = cells.shares_here(self._hue, self._place, weight, whole)
        tree = (1 - how.tree_here) * whole[self._hue] + how.tree_here * here[self._hue, self._place]
        ground = self._ground(np.where(self._stem, np.float32(0), 1 - likely))
        grain = np.log(cells.texture_shares(self._tex, likely) / self._ground_texture(1 - likely))
        colour = np.clip(np.log(tree / ground), -MOST_COLOUR, MOST_COLOUR)
        return np.asarray(
            colour + how.texture * np.clip(grain, -MOST_TEXTURE, MOST_TEXTURE)[self._tex] + self._prior, np.float32
        )

    def _ground(self, weight: Real) -> Real:
        """How often ground shows each inside pixel's colour, there and anywhere."""
        hue, at = np.concatenate([self._ground_hue, self._hue]), np.concatenate([self._ground_at, self._place])
        weights = np.concatenate([self._ground_weight, weight])
        whole = cells.colour_shares(hue, weights)
        here = cells.shares_here(hue, at, weights, whole)
        k = self._how.ground_here
        return np.asarray((1 - k) * whole[self._hue] + k * here[self._hue, self._place], np.float32)

    def _ground_texture(self, weight: Real) -> Real:
        weights = np.concatenate([np.full(len(self._ground_tex), self._share, np.float32), weight])
        return cells.texture_shares(np.concatenate([self._ground_tex, self._tex]), weights)

    def _spread(self, odds: Real) -> Real:
        field = np.zeros(self._inside.shape, np.float32)
        field[self._inside] = odds
        soft = cv2.GaussianBlur(field, (0, 0), self._how.spread_px)
        return np.asarray(soft[self._inside] / self._weight, np.float32)

    def _mixed(self, odds: Real, share: float) -> Real:
        return odds if share == 0 else np.asarray((1 - share) * odds + share * self._spread(odds), np.float32)
