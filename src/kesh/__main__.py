"""`python -m kesh` is the same as the `kesh` command."""

import sys

from kesh.line.main import main

if __name__ == "__main__":
    sys.exit(main())
