"""Asks the web's rules. They are bundled when they have changed; one Node process answers a line of JSON with a line of JSON."""

import hashlib
import json
import subprocess
from functools import cache
from pathlib import Path
from typing import Any

WEB = Path(__file__).resolve().parents[1]
LOCAL = WEB.parent / ".local"


def _bundle() -> Path:
    """The file for Node, made of the sources as they are now."""
    sources = sorted([*(WEB / "src").rglob("*.ts"), *(WEB / "src").rglob("*.tsx"), *(WEB / "rules").glob("*.ts")])
    digest = hashlib.blake2b(b"".join(path.read_bytes() for path in sources), digest_size=12).hexdigest()
    out = LOCAL / "rules" / digest
    made = out / "rules.js"
    if not made.exists():
        command = [str(WEB / "node_modules" / ".bin" / "vite"), "build", "--config", "rules/vite.config.ts", "--outDir", str(out)]
        subprocess.run(command, cwd=WEB, check=True)
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
