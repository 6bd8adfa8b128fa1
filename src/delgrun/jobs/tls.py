"""The workers' door: scheduler, workers and server show each other one certificate, which only its owner can read.

Whoever may submit work runs code as the owner, and a port on loopback is open to every account of the machine.
"""

import os
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from distributed.security import Security

_NAMES = {"tls_ca_file": "ca.pem", "cert": "cert.pem", "key": "key.pem"}


def lay_out(folder: Path) -> None:
    """Make a new key and a certificate that vouches for itself; what was there before opens nothing any more."""
    from distributed.security import Security

    made = Security.temporary()
    texts = {"ca.pem": made.tls_ca_file, "cert.pem": made.tls_scheduler_cert, "key.pem": made.tls_scheduler_key}
    folder.mkdir(parents=True, exist_ok=True)
    folder.chmod(0o700)
    for name, text in texts.items():
        (folder / name).unlink(missing_ok=True)
        with os.fdopen(os.open(folder / name, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "w") as file:
            file.write(str(text))


def security(folder: Path) -> "Security":
    """How to show the certificate in this folder (ca.pem, cert.pem, key.pem), and to ask for it.

    Raises
    ------
    FileNotFoundError
        One of the three files is missing.
    """
    from distributed.security import Security

    path = {part: folder / name for part, name in _NAMES.items()}
    for p in path.values():
        if not p.exists():
            raise FileNotFoundError(p)
    both = {
        f"tls_{who}_{part}": str(path[part]) for who in ("scheduler", "worker", "client") for part in ("cert", "key")
    }
    return Security(require_encryption=True, tls_ca_file=str(path["tls_ca_file"]), **both)
