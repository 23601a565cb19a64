"""Make the TypeScript client from the API and the core: its types, and the constants that the browser goes by.

Or check that it is not stale.

usage: .venv/bin/python tools/client.py [--check]
"""

import os
import subprocess
import sys
import tempfile
from pathlib import Path

TOP = Path(__file__).parents[1]
API = TOP / "web" / "src" / "api"
sys.path.insert(0, str(TOP))

from toadbell.core.phrases import LOW_HEAD  # noqa: E402

CONSTANTS = f"""// From the core, by `make client`; never edited.

/** Test pressure under which a person who reads bar reads millibar, Pa. */
export const LOW_HEAD = {LOW_HEAD:g}
"""


def main() -> int:
    """Write the client where it is kept, or compare; gives the exit code."""
    with tempfile.TemporaryDirectory() as folder:
        schema, fresh = Path(folder) / "openapi.json", Path(folder) / "schema.d.ts"
        export = [
            sys.executable,
            "manage.py",
            "export_openapi_schema",
            "--api",
            "toadbell.site.api.api",
            "--output",
            str(schema),
        ]
        subprocess.run(export, cwd=TOP, check=True, stdout=subprocess.DEVNULL)
        client = ["npx", "--no-install", "openapi-typescript", str(schema), "-o", str(fresh)]
        subprocess.run(client, cwd=TOP / "web", check=True, capture_output=True, env={**os.environ, "NO_COLOR": "1"})
        made = {API / "schema.d.ts": fresh.read_text(), API / "core.ts": CONSTANTS}
        for path, text in made.items():
            if "--check" not in sys.argv:
                path.write_text(text)
            elif not path.exists() or path.read_text() != text:
                print(f"web/src/api/{path.name} is stale: the API has changed since. Run make client and commit it.")
                return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())
