"""Builds a wheel, installs it alone in a clean environment and lets it open the demo: what pyproject.toml names must suffice."""

import os
import subprocess
import sys
import tempfile
import venv
from pathlib import Path

ROOT = Path(__file__).parents[1]


def run(*words: object, **more: object) -> None:
    """A command that must end well; what it said is shown when it does not."""
    done = subprocess.run([str(w) for w in words], capture_output=True, text=True, check=False, **more)  # type: ignore[call-overload]
    if done.returncode:
        raise SystemExit(f"{' '.join(map(str, words[:4]))} failed:\n{done.stdout}{done.stderr}")


def main() -> None:
    """Build, install, open."""
    with tempfile.TemporaryDirectory(prefix="kesh-wheel-") as name:
        folder = Path(name)
        run(sys.executable, "-m", "pip", "wheel", "--quiet", "--no-deps", "--no-build-isolation", "-w", folder, ROOT)
        (wheel,) = folder.glob("kesh-*.whl")
        venv.create(folder / "env", with_pip=True)
        python = folder / "env" / "bin" / "python"
        # the versions that are locked, so that this asks whether the names are complete, not whether the world moved on
        run(python, "-m", "pip", "install", "--quiet", "--disable-pip-version-check", "-c", _pins(folder), wheel)
        env = {k: v for k, v in os.environ.items() if k not in ("PYTHONPATH", "DISPLAY", "WAYLAND_DISPLAY")}
        env |= {"QT_QPA_PLATFORM": "offscreen", "HOME": name, "XDG_DATA_HOME": name, "XDG_CONFIG_HOME": name}
        run(folder / "env" / "bin" / "kesh", "--demo", "--picture", folder / "demo.png", cwd=folder, env=env)
        size = (folder / "demo.png").stat().st_size
        if size < 50_000:
            raise SystemExit(f"the wheel's picture of the demo has only {size} bytes")
    for left in (ROOT / "build", *(ROOT / "src").glob("*.egg-info")):
        subprocess.run(["rm", "-rf", str(left)], check=False)
    print(f"wheel: installed alone it opens the demo ({size // 1000} kB)")


def _pins(folder: Path) -> Path:
    """The locked versions without their hashes: a wheel of one's own has none."""
    lines = (ROOT / "requirements.lock").read_text(encoding="utf-8").splitlines()
    pins = folder / "pins.txt"
    pins.write_text(
        "\n".join(line.split(" ")[0] for line in lines if "==" in line and not line.startswith((" ", "#"))) + "\n"
    )
    return pins


if __name__ == "__main__":
    main()
