"""Protocol, port and stand-in: real bytes over a real pseudo-terminal."""

import os
import subprocess
import sys
import time
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.devices.port import Port
from kesh.devices.protocol import DeviceError, read_line
from kesh.devices.stand_in import sent
from kesh.model import Day

NOW = datetime(2026, 3, 10, 9, 30)


@pytest.mark.parametrize(
    ("line", "kind", "value", "tolerance"),
    [
        ("L 84.20 mm 0.02\r", "length", 84.2, 0.02),
        ("L 8.42 cm 0.01", "length", 84.2, 0.1),
        ("L 1 inch 0.001", "length", 25.4, 0.0254),
        ("M 4.310 kg 0.005", "mass", 4.31, 0.005),
        ("M 500 g 1", "mass", 0.5, 0.001),
    ],
)
def test_readings(line: str, kind: str, value: float, tolerance: float) -> None:
    found = read_line(line, NOW)
    assert not isinstance(found, Day)
    assert (found.kind, found.at) == (kind, NOW)
    assert found.value == pytest.approx(value)
    assert found.tolerance == pytest.approx(tolerance)


@pytest.mark.parametrize(
    ("line", "said"),
    [
        ("", "no reading"), ("hello", "no reading"), ("L 84.2 mm", "no reading"), ("X 1 mm 0", "no reading"),
        ("L 84.2 kg 0.1", "does not belong to a length"), ("M 4 mm 0.1", "does not belong to a mass"),
        ("L nan mm 0.1", "cannot be"), ("L -3 mm 0.1", "cannot be"), ("L 1e9 mm 0.1", "cannot be"), ("L 8x mm 0.1", "no number"),
        ("? battery low", "battery low"), ("L " + "9" * 200 + " mm 1", "no reading"),
    ],
)  # fmt: skip
def test_garbage_and_wrong_units(line: str, said: str) -> None:
    with pytest.raises(DeviceError, match=said):
        read_line(line, NOW)


@given(st.text(max_size=60))
def test_no_line_ever_breaks_the_reader(line: str) -> None:
    try:
        found = read_line(line, NOW)
    except DeviceError:
        return
    assert isinstance(found, Day) or 0 <= found.value <= 5000


def test_a_stand_in_sends_figures_as_readings_and_the_rest_as_it_stands() -> None:
    assert list(sent("calliper", ["84.2", "noise", "end", "99"])) == [b"L 84.20 mm 0.02\r\n", b"noise\n"]
    assert list(sent("scale", ["4.31"])) == [b"M 4.310 kg 0.005\r\n"]


@pytest.fixture
def stand_in() -> Iterator[tuple[subprocess.Popen[str], Path]]:
    """A calliper as a program of its own, and its line."""
    program = subprocess.Popen(
        [sys.executable, "-m", "kesh.devices.stand_in", "calliper"],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        text=True,
    )
    assert program.stdout is not None
    yield program, Path(program.stdout.readline().strip())
    assert program.stdin is not None
    program.stdin.close()
    program.wait(5)
    program.stdout.close()


def press(program: subprocess.Popen[str], text: str) -> None:
    assert program.stdin is not None
    program.stdin.write(text + "\n")
    program.stdin.flush()


def arrived(port: Port, count: int) -> list[str]:
    found: list[str] = []
    until = time.monotonic() + 5
    while len(found) < count and time.monotonic() < until:
        found += port.lines()
        time.sleep(0.01)
    return found


def test_readings_come_over_the_line_until_it_is_unplugged(stand_in: tuple[subprocess.Popen[str], Path]) -> None:
    program, path = stand_in
    port = Port(path)
    press(program, "84.2")
    press(program, "117")
    found = [read_line(line, NOW).value for line in arrived(port, 2)]
    assert found == pytest.approx([84.2, 117.0])
    assert port.lines() == []
    press(program, "end")
    program.wait(5)
    with pytest.raises(DeviceError, match="unplugged"):
        arrived(port, 1)
    port.close()


def arrived_nothing(port: Port) -> None:
    time.sleep(0.05)
    assert port.lines() == []


def test_half_a_line_waits_for_its_rest_and_an_endless_one_is_cleared() -> None:
    own, other = os.openpty()
    port = Port(Path(os.ttyname(other)))
    os.write(own, b"L 84.2")
    time.sleep(0.05)
    assert port.lines() == []
    os.write(own, b"0 mm 0.02\nL 1")
    assert arrived(port, 1) == ["L 84.20 mm 0.02"]
    for _ in range(4):
        os.write(own, b"x" * 1000)
        arrived_nothing(port)
    os.write(own, b"x" * 1000)
    time.sleep(0.05)
    with pytest.raises(DeviceError, match="without an end"):
        port.lines()
    port.close()
    os.close(own)
    os.close(other)


def test_what_is_no_line(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("x")
    for path, said in (
        (tmp_path / "gone", "is not there"),
        (tmp_path / "file", "is no device"),
        (Path("/dev/null"), "no serial line"),
    ):
        with pytest.raises(DeviceError, match=said):
            Port(path)


def test_an_unknown_stand_in_is_said() -> None:
    done = subprocess.run([sys.executable, "-m", "kesh.devices.stand_in", "ruler"], capture_output=True, text=True)
    assert done.returncode == 2
    assert "calliper, scale, probe or station" in done.stderr


def test_a_probe_and_a_weather_station_are_read() -> None:
    found = read_line("P 31 % 3", NOW)
    assert not isinstance(found, Day)
    assert (found.kind, found.device) == ("moisture", "probe")
    assert found.value == pytest.approx(0.31)
    assert found.tolerance == pytest.approx(0.03)
    day = read_line("W 2026-11-28 -2.0 6.5 1.2 2.0 80 -", NOW)
    assert isinstance(day, Day)
    assert (day.tmin_c, day.rain_mm, day.rh_pct, day.sun_h) == (-2.0, 1.2, 80.0, None)
    for line in ("W 2026-11-28", "W soon -2 6", "W 2026-11-28 9 6", "W 2026-11-28 -2 hot", "P 131 % 3", "P 3 mm 1"):
        with pytest.raises(DeviceError):
            read_line(line, NOW)


def test_their_stand_ins_send_what_they_read() -> None:
    probe = next(sent("probe", ["0.31"]))
    assert not isinstance(read_line(probe.decode(), NOW), Day)
    sends = list(sent("station", ["2026-11-28 -2 6.5 1.2 2 80 3", "end", "2026-11-29 0 1"]))
    assert len(sends) == 1
    assert isinstance(read_line(sends[0].decode(), NOW), Day)
