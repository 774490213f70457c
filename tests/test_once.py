"""What is worked out once is kept, and one object's slow work never keeps another's waiting."""

import threading

from kesh.base.once import once


class Pot:
    def __init__(self, wait: threading.Event | None = None) -> None:
        self.wait, self.began, self.asked = wait, threading.Event(), 0

    @once
    def volume_l(self) -> float:
        """How much goes in."""
        self.asked += 1
        self.began.set()
        if self.wait is not None:
            assert self.wait.wait(10)
        return 2.5


def test_a_value_is_worked_out_once_and_can_be_read_about() -> None:
    pot = Pot()
    assert (pot.volume_l, pot.volume_l, pot.asked) == (2.5, 2.5, 1)
    assert Pot.volume_l.__doc__ == "How much goes in."


def test_slow_work_on_one_object_leaves_the_others_free() -> None:
    go_on = threading.Event()
    slow, quick = Pot(go_on), Pot()
    worker = threading.Thread(target=lambda: slow.volume_l)
    worker.start()
    assert slow.began.wait(10)
    asking = threading.Thread(target=lambda: quick.volume_l)
    asking.start()
    assert quick.began.wait(5)
    go_on.set()
    worker.join(10)
    asking.join(10)
    assert (quick.volume_l, slow.volume_l, quick.asked, slow.asked) == (2.5, 2.5, 1, 1)
