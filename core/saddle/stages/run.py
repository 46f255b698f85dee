"""A run of stages. A stage is a function of a module whose arguments are all it can read, and its key is made from them: nobody
writes a key, so none can forget what the stage reads.

    run = Run(cache)
    surface = run.given(tin, identity)            # what comes from outside, by the change that made it
    frames = run(frames_at, alignment, stations)  # key = stage, code and keys of the arguments
    frames.value                                  # computed when somebody asks, once, and kept

Nothing is computed before its value is asked for. Keys chain, so that arrays are not hashed again, but where `settled` says so.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from types import FunctionType
from typing import Any, Generic, TypeVar, overload

from saddle.stages.cache import Cache
from saddle.stages.keys import code_version, digest

A = TypeVar("A")
B = TypeVar("B")
C = TypeVar("C")
D = TypeVar("D")
E = TypeVar("E")
F = TypeVar("F")
G = TypeVar("G")
H = TypeVar("H")
M = TypeVar("M")
J = TypeVar("J")
K = TypeVar("K")
L = TypeVar("L")
R = TypeVar("R")
T = TypeVar("T")


@dataclass(frozen=True, slots=True)
class Kept(Generic[T]):
    """A value that is there or can be made, and the key that stands for it."""

    key: str
    make: Callable[[], T]

    @property
    def value(self) -> T:
        """Computed when it is asked for the first time. Raises what its stage raises."""
        return self.make()


def _name(stage: Callable[..., object]) -> str:
    """The name of a stage. Raises TypeError for what could read more than its arguments."""
    if not isinstance(stage, FunctionType | type):
        raise TypeError(
            f"{stage!r} is no stage: only functions and classes of a module are, nothing that is made of them or called like them"
        )
    name = f"{stage.__module__}.{stage.__qualname__}"
    if "<" in name or getattr(stage, "__closure__", None):
        raise TypeError(f"{name} is no stage: only functions and classes of a module are, which see nothing but their arguments")
    return name


class Run:
    """Calls stages and keeps what they give. passing: what is known is taken from the cache, but nothing new is put there; for
    what somebody tries and never asks for again."""

    def __init__(self, cache: Cache | None = None, *, passing: bool = False) -> None:
        self.cache, self.passing = cache or Cache(), passing

    def given(self, value: T, identity: str | None = None) -> Kept[T]:
        """What comes from outside. identity: of the change that made it, which never comes again for anything else; without
        one its content stands for it."""
        return Kept(f"given {identity}" if identity is not None else digest(value), lambda: value)

    def part(self, whole: Kept[A], take: Callable[[A], T]) -> Kept[T]:
        """A small part of something, known by its content: what reads only the part is kept while the rest changes."""
        return self.given(take(whole.value))

    def settled(self, kept: Kept[T]) -> Kept[T]:
        """The same known by its content: where it comes out as it was before, all that follows is kept. It is computed now. In
        passing nothing would be kept, so that there is nothing to know it by."""
        return kept if self.passing else self.given(kept.value)

    def item(self, kept: Kept[tuple[Any, ...]], number: int) -> Kept[Any]:
        """One of the values that a stage gives together."""
        return Kept(digest("item", kept.key, number), lambda: kept.value[number])

    def all_of(self, parts: Mapping[str, Kept[T]]) -> Kept[dict[str, T]]:
        """A mapping of kept values as one."""
        key = digest("mapping", {name: part.key for name, part in parts.items()})
        return Kept(key, lambda: {name: part.value for name, part in parts.items()})

    def in_order(self, parts: list[Kept[T]]) -> Kept[tuple[T, ...]]:
        """A list of kept values as one."""
        return Kept(digest("list", [part.key for part in parts]), lambda: tuple(part.value for part in parts))

    # fmt: off
    @overload
    def __call__(self, stage: Callable[[A], R], _1: Kept[A], /) -> Kept[R]: ...
    @overload
    def __call__(self, stage: Callable[[A, B], R], _1: Kept[A], _2: Kept[B], /) -> Kept[R]: ...
    @overload
    def __call__(self, stage: Callable[[A, B, C], R], _1: Kept[A], _2: Kept[B], _3: Kept[C], /) -> Kept[R]: ...
    @overload
    def __call__(self, stage: Callable[[A, B, C, D], R], _1: Kept[A], _2: Kept[B], _3: Kept[C], _4: Kept[D], /) -> Kept[R]: ...
    @overload
    def __call__(self, stage: Callable[[A, B, C, D, E], R], _1: Kept[A], _2: Kept[B], _3: Kept[C], _4: Kept[D], _5: Kept[E], /) -> Kept[R]: ...
    @overload
    def __call__(self, stage: Callable[[A, B, C, D, E, F], R], _1: Kept[A], _2: Kept[B], _3: Kept[C], _4: Kept[D], _5: Kept[E], _6: Kept[F], /) -> Kept[R]: ...
    @overload
    def __call__(self, stage: Callable[[A, B, C, D, E, F, G], R], _1: Kept[A], _2: Kept[B], _3: Kept[C], _4: Kept[D], _5: Kept[E], _6: Kept[F], _7: Kept[G], /) -> Kept[R]: ...
    @overload
    def __call__(self, stage: Callable[[A, B, C, D, E, F, G, H], R], _1: Kept[A], _2: Kept[B], _3: Kept[C], _4: Kept[D], _5: Kept[E], _6: Kept[F], _7: Kept[G], _8: Kept[H], /) -> Kept[R]: ...
    @overload
    def __call__(self, stage: Callable[[A, B, C, D, E, F, G, H, M], R], _1: Kept[A], _2: Kept[B], _3: Kept[C], _4: Kept[D], _5: Kept[E], _6: Kept[F], _7: Kept[G], _8: Kept[H], _9: Kept[M], /) -> Kept[R]: ...
    @overload
    def __call__(self, stage: Callable[[A, B, C, D, E, F, G, H, M, J], R], _1: Kept[A], _2: Kept[B], _3: Kept[C], _4: Kept[D], _5: Kept[E], _6: Kept[F], _7: Kept[G], _8: Kept[H], _9: Kept[M], _10: Kept[J], /) -> Kept[R]: ...
    @overload
    def __call__(self, stage: Callable[[A, B, C, D, E, F, G, H, M, J, K], R], _1: Kept[A], _2: Kept[B], _3: Kept[C], _4: Kept[D], _5: Kept[E], _6: Kept[F], _7: Kept[G], _8: Kept[H], _9: Kept[M], _10: Kept[J], _11: Kept[K], /) -> Kept[R]: ...
    @overload
    def __call__(self, stage: Callable[[A, B, C, D, E, F, G, H, M, J, K, L], R], _1: Kept[A], _2: Kept[B], _3: Kept[C], _4: Kept[D], _5: Kept[E], _6: Kept[F], _7: Kept[G], _8: Kept[H], _9: Kept[M], _10: Kept[J], _11: Kept[K], _12: Kept[L], /) -> Kept[R]: ...
    # fmt: on
    def __call__(self, stage: Callable[..., R], /, *arguments: Kept[Any]) -> Kept[R]:
        """The result of a stage for these arguments."""
        name = _name(stage)
        key = digest(code_version(), name, [a.key for a in arguments])
        cache, passing, made = self.cache, self.passing, list[R]()

        def compute() -> R:
            return stage(*(a.value for a in arguments))

        def make() -> R:
            if not made:
                known = cache.find(key) if passing else None
                if known is not None:
                    made.append(known.value)
                else:
                    made.append(compute() if passing else cache.get(key, name, compute))
            return made[0]

        return Kept(key, make)

    # fmt: off
    @overload
    def bundle(self, stage: Callable[[A], R], _1: Kept[A], /) -> Kept[R]: ...
    @overload
    def bundle(self, stage: Callable[[A, B], R], _1: Kept[A], _2: Kept[B], /) -> Kept[R]: ...
    @overload
    def bundle(self, stage: Callable[[A, B, C], R], _1: Kept[A], _2: Kept[B], _3: Kept[C], /) -> Kept[R]: ...
    @overload
    def bundle(self, stage: Callable[[A, B, C, D], R], _1: Kept[A], _2: Kept[B], _3: Kept[C], _4: Kept[D], /) -> Kept[R]: ...
    @overload
    def bundle(self, stage: Callable[[A, B, C, D, E], R], _1: Kept[A], _2: Kept[B], _3: Kept[C], _4: Kept[D], _5: Kept[E], /) -> Kept[R]: ...
    @overload
    def bundle(self, stage: Callable[[A, B, C, D, E, F], R], _1: Kept[A], _2: Kept[B], _3: Kept[C], _4: Kept[D], _5: Kept[E], _6: Kept[F], /) -> Kept[R]: ...
    @overload
    def bundle(self, stage: Callable[[A, B, C, D, E, F, G], R], _1: Kept[A], _2: Kept[B], _3: Kept[C], _4: Kept[D], _5: Kept[E], _6: Kept[F], _7: Kept[G], /) -> Kept[R]: ...
    @overload
    def bundle(self, stage: Callable[[A, B, C, D, E, F, G, H], R], _1: Kept[A], _2: Kept[B], _3: Kept[C], _4: Kept[D], _5: Kept[E], _6: Kept[F], _7: Kept[G], _8: Kept[H], /) -> Kept[R]: ...
    @overload
    def bundle(self, stage: Callable[[A, B, C, D, E, F, G, H, M], R], _1: Kept[A], _2: Kept[B], _3: Kept[C], _4: Kept[D], _5: Kept[E], _6: Kept[F], _7: Kept[G], _8: Kept[H], _9: Kept[M], /) -> Kept[R]: ...
    @overload
    def bundle(self, stage: Callable[[A, B, C, D, E, F, G, H, M, J], R], _1: Kept[A], _2: Kept[B], _3: Kept[C], _4: Kept[D], _5: Kept[E], _6: Kept[F], _7: Kept[G], _8: Kept[H], _9: Kept[M], _10: Kept[J], /) -> Kept[R]: ...
    @overload
    def bundle(self, stage: Callable[[A, B, C, D, E, F, G, H, M, J, K], R], _1: Kept[A], _2: Kept[B], _3: Kept[C], _4: Kept[D], _5: Kept[E], _6: Kept[F], _7: Kept[G], _8: Kept[H], _9: Kept[M], _10: Kept[J], _11: Kept[K], /) -> Kept[R]: ...
    @overload
    def bundle(self, stage: Callable[[A, B, C, D, E, F, G, H, M, J, K, L], R], _1: Kept[A], _2: Kept[B], _3: Kept[C], _4: Kept[D], _5: Kept[E], _6: Kept[F], _7: Kept[G], _8: Kept[H], _9: Kept[M], _10: Kept[J], _11: Kept[K], _12: Kept[L], /) -> Kept[R]: ...
    # fmt: on
    def bundle(self, stage: Callable[..., R], /, *arguments: Kept[Any]) -> Kept[R]:
        """Values put together, which costs nothing and is not kept."""
        made: list[R] = []

        def make() -> R:
            if not made:
                made.append(stage(*(a.value for a in arguments)))
            return made[0]

        return Kept(digest(_name(stage), [a.key for a in arguments]), make)
