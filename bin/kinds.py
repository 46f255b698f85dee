"""Writes to stdout what the interface knows of the registry of documents: which kinds every road has one of."""

from saddle.documents import KINDS, MAIN

names = "\n".join(f'  "{name}",' for name, kind in KINDS.items() if kind.of_road)
print("/** Made by bin/schema from the registry of documents. */")
print('import type { Kind } from "./hooks";\n')
print("/** The road and the alignment that a project begins with, and what it has exactly one of. */")
print(f'export const MAIN = "{MAIN}";')
print("/** Of these kinds every road has exactly one, under the road's key. */")
print(f"export const OF_ROAD: ReadonlySet<Kind> = new Set<Kind>([\n{names}\n]);")
