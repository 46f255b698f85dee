"""Writes what the parts of documents begin with, from the API's schema, as a TypeScript table: `defaults.py openapi.json`."""

import json
import sys

HEAD = """/** What the parts of documents begin with, by their names in the API's schema. Written by bin/schema; not to be edited. */
import type { Schemas } from "./client";

"""


def main(path: str) -> None:
    """Every schema with defaults or a tag that names it; `satisfies` fails the type check where a value is none of its field."""
    with open(path) as file:
        schemas = json.load(file)["components"]["schemas"]
    rows, types = [], []
    for name, schema in sorted(schemas.items()):
        if name.endswith(("Out", "In", "Keyed", "Report", "View", "Job")):
            continue
        fields = {key: field.get("default", field.get("const")) for key, field in schema.get("properties", {}).items()}
        known = {key: value for key, value in fields.items() if value is not None}
        if known:
            rows.append(f"  {name}: {json.dumps(known)},")
            types.append(f'  {name}: Pick<Schemas["{name}"], {" | ".join(json.dumps(key) for key in known)}>;')
    print(HEAD + "interface Defaults {\n" + "\n".join(types) + "\n}\n")
    print("export const DEFAULTS: Defaults = {\n" + "\n".join(rows) + "\n};")


main(sys.argv[1])
