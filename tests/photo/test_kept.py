"""The store of prints and cut-outs: bounded, and whole under several threads."""

from concurrent.futures import ThreadPoolExecutor

from hypothesis import given
from hypothesis import strategies as st

from kesh.photo.kept import Kept


@given(st.lists(st.tuples(st.booleans(), st.integers(0, 9)), max_size=60))
def test_it_behaves_like_a_dictionary_that_forgets_what_was_used_longest_ago(steps: list[tuple[bool, int]]) -> None:
    kept, order = Kept[int, int](4), []
    for put, key in steps:
        if put:
            assert kept.keep(key, key * 10) == key * 10
            order = [k for k in order if k != key] + [key]
            order = order[-4:]
        else:
            assert kept.get(key) == (key * 10 if key in order else None)
            if key in order:
                order = [k for k in order if k != key] + [key]
    assert len(kept) == len(order)
    assert all(key in kept for key in order)


def test_many_threads_leave_it_whole() -> None:
    kept: Kept[int, int] = Kept(5)

    def work(seed: int) -> int:
        wrong = 0
        for i in range(2000):
            key = (i * 7 + seed) % 40
            kept.keep(key, key)
            found = kept.get((key + seed) % 40)
            wrong += found is not None and found != (key + seed) % 40
        return wrong

    with ThreadPoolExecutor(8) as pool:
        assert sum(pool.map(work, range(8))) == 0
    assert len(kept) == 5
    kept.clear()
    assert kept.get(1) is None
