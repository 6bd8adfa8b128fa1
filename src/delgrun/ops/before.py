"""What can be told before anything is installed: `python -m delgrun.ops.before demo --port 8440`, by any Python."""

import argparse
import sys

from delgrun.ops import machine
from delgrun.ops.errors import MachineError


def main(arguments: list[str] | None = None) -> int:
    """1 where a port that is wished is taken, which is said."""
    parser = argparse.ArgumentParser(add_help=False)
    parser.add_argument("--port", type=int)
    wished, _ = parser.parse_known_args(arguments)
    try:
        if wished.port:
            machine.free_port(wished.port)
    except MachineError as e:
        print(f"delgrun: {e}", file=sys.stderr)
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())
