"""A server of the demo workshop on a folder of its own, and the browser that looks at it."""

import os
import socket
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

TOP = Path(__file__).parents[1]
HEADLESS, WHOLE = Path("/usr/bin/chromium-headless-shell"), Path("/usr/bin/chromium")
"""Its headless build is a third quicker, where it is installed."""
QUIET = ("gpu", "quic", "background-networking", "component-update", "sync", "dev-shm-usage")
LAUNCH: dict[str, Any] = {
    "executable_path": str(HEADLESS if HEADLESS.exists() else WHOLE),
    "args": ["--no-sandbox", "--no-first-run", *(f"--disable-{what}" for what in QUIET)],
}
"""How Debian's Chromium is started: headless, calling nobody."""


@contextmanager
def demo_server(folder: Path | None = None) -> Iterator[str]:
    """Serve the demo workshop on a free port of this machine, in a folder that is kept or in one of its own; gives the
    address, and stops when done.
    """
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    with tempfile.TemporaryDirectory() as own:
        data = str(folder or own)
        command = [sys.executable, "manage.py", "serve", "--demo", "--port", str(port)]
        server = subprocess.Popen(
            command,
            cwd=TOP,
            env={**os.environ, "TOADBELL_DATA": data, "TOADBELL_SHARE_ON_LOOPBACK": "1"},
            stdout=subprocess.PIPE,
            text=True,
        )
        try:
            assert server.stdout is not None
            while "http://" not in (line := server.stdout.readline()):
                if not line:
                    raise SystemExit("the server did not start: its words are above")
            yield f"http://127.0.0.1:{port}"
        finally:
            server.terminate()
            server.wait(10)
