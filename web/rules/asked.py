"""Asks the web's rules. They are bundled when they have changed; one Node process answers a line of JSON with a line of JSON."""

import hashlib
import json
import subprocess
from functools import cache
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

WEB = Path(__file__).resolve().parents[1]
LOCAL = WEB.parent / ".local"


def _bundle() -> Path:
    """The file for Node, made of the sources as they are now."""
    sources = sorted([*(WEB / "src").rglob("*.ts"), *(WEB / "src").rglob("*.tsx"), *(WEB / "rules").glob("*.ts")])
    digest = hashlib.blake2b(b"".join(path.read_bytes() for path in sources), digest_size=12).hexdigest()
    made = LOCAL / "rules" / f"{digest}.mjs"
    if not made.exists():
        made.parent.mkdir(parents=True, exist_ok=True)
        # Two processes may make it at once: each in a folder of its own, and the file is put in its place whole.
        with TemporaryDirectory(dir=made.parent) as out:
            vite = str(WEB / "node_modules" / ".bin" / "vite")
            subprocess.run([vite, "build", "--config", "rules/vite.config.ts", "--outDir", out], cwd=WEB, check=True)
            next(Path(out).glob("rules.*js")).replace(made)
    return made


@cache
def _node() -> subprocess.Popen[str]:
    return subprocess.Popen(["node", str(_bundle())], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, bufsize=1)


def asked(rule: str, *arguments: Any) -> Any:
    """What a rule of rules.ts gives. Raises RuntimeError with its words when it raises."""
    node = _node()
    assert node.stdin and node.stdout
    node.stdin.write(json.dumps([rule, arguments]) + "\n")
    node.stdin.flush()
    answer = json.loads(node.stdout.readline())
    if "wrong" in answer:
        raise RuntimeError(answer["wrong"])
    return answer.get("value")
