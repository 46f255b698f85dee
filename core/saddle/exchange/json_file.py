"""What the JSON files of our own have in common: a format and a version in front, and errors that name the place."""

import json
from typing import Any

from saddle.errors import ImportProblem


def read_json(text: str, form: str, version: int, what: str) -> dict[str, Any]:
    """The content of a file of a format and version. what: such a file as people call it. Raises ImportProblem."""
    try:
        data = json.loads(text)
    except (ValueError, RecursionError) as error:
        where = f"line {error.lineno}" if isinstance(error, json.JSONDecodeError) else "the file"
        raise ImportProblem(f"this is not JSON ({where})", where, f"choose {what}") from error
    if not isinstance(data, dict) or data.get("format") != form:
        raise ImportProblem(f"this is not {what}", "format", f"its format would be “{form}”")
    if data.get("version") != version:
        raise ImportProblem(
            f"the file has version {data.get('version')!s:.20}, this program reads version {version}", "version",
            "export it again from here",
        )  # fmt: skip
    return data
