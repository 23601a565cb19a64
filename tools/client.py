"""Make the TypeScript client's types from the API, or check that they are not stale.

usage: .venv/bin/python tools/client.py [--check]
"""

import os
import subprocess
import sys
import tempfile
from pathlib import Path

TOP = Path(__file__).parents[1]
KEPT = TOP / "web" / "src" / "api" / "schema.d.ts"


def main() -> int:
    """Write the types where they are kept, or compare; gives the exit code."""
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
        if "--check" not in sys.argv:
            KEPT.write_text(fresh.read_text())
        elif not KEPT.exists() or KEPT.read_text() != fresh.read_text():
            print("web/src/api/schema.d.ts is stale: the API has changed since. Run make client and commit it.")
            return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())
