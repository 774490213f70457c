"""Other people's words for finish, feet and colour become Kesh's; what is not understood stays in the notes."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.formats.bundle import read_bundle
from kesh.formats.words import FEET, FINISH, kept_words, read_as


@pytest.mark.parametrize(
    ("said", "meant"),
    [
        ("unglazed", "unglazed"), ("Un-glazed", "unglazed"), ("NOT GLAZED", "unglazed"), ("raw clay", "unglazed"),
        ("glazed", "muted_glaze"), ("matt glaze", "muted_glaze"), ("celadon", "muted_glaze"),
        ("glossy blue glaze", "bright_glaze"), ("high-gloss", "bright_glaze"), ("bright_glaze", "bright_glaze"),
        ("painted wood", "painted"), ("oiled", "as_made"), ("as_made", "as_made"), ("moonlit", None),
    ],
)  # fmt: skip
def test_finishes(said: str, meant: str | None) -> None:
    assert read_as(said, FINISH) == meant


def test_every_key_means_itself() -> None:
    for table in (FINISH, FEET):
        for key, words in table:
            assert read_as(key, table) == key
            assert all(read_as(word, table) is not None for word in words)


def test_what_is_not_understood_is_noted() -> None:
    found = kept_words({"finish": "moonlit", "feet_style": "webbed", "colour": "sea blue", "notes": "chipped"})
    assert found["finish"] == "as_made"
    assert "feet_style" not in found
    assert "colour" not in found
    assert found["notes"] == (
        "chipped; finish as written: moonlit; feet style as written: webbed; colour as written: sea blue"
    )


def test_a_bundle_with_foreign_words_comes_in_whole() -> None:
    row = {"id": "p", "length_mm": 300, "width_mm": 200, "height_mm": 80, "finish": "satin", "colour": "#12"}
    held = read_bundle(json.loads(json.dumps({"format": "kesh-bundle", "version": 1, "pots": [row]})))
    assert held.pots["p"].finish == "muted_glaze"
    assert "colour as written: #12" in held.pots["p"].notes


@given(st.text(max_size=40))
def test_any_word_is_read_or_left(text: str) -> None:
    found = kept_words({"finish": text})
    assert found["finish"] in {key for key, _ in FINISH}
    assert read_as(text, FINISH) is not None or text in found["notes"]
