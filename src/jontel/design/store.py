"""One store for what was computed and may be asked for again: bounded by bytes, let go with its owner.

``kept`` makes a pure function look its result up by the values of its arguments. Each open design has a store of its
own, which its jobs work in (``working_in``); what runs without one shares the process's. Threads may share a store:
at worst something is computed twice.
"""

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable, Iterator
from contextlib import contextmanager, suppress
from contextvars import ContextVar
from functools import wraps
from inspect import signature
from typing import Any, ParamSpec, Protocol, TypeVar

from jontel.design.errors import CannotStitch

P = ParamSpec("P")
R = TypeVar("R")
ROOM = 96_000_000
"""How many bytes a store holds by default: the stitches of about twenty tunings of an object of 100,000."""
OVERHEAD = 400
"""What an entry takes besides its arrays, about, bytes."""


class Store:
    """Results by what they depend on; when there is no more room, those asked for longest ago go first."""

    def __init__(self, room: int = ROOM) -> None:
        self.room = room
        self.size = 0
        self._entries: OrderedDict[Hashable, tuple[Any, int]] = OrderedDict()
        self._lock = threading.Lock()

    def __len__(self) -> int:
        return len(self._entries)

    def find(self, key: Hashable) -> tuple[Any, bool]:
        """What is kept under ``key``, and whether there is anything."""
        with self._lock:
            found = self._entries.get(key)
            if found is None:
                return None, False
            self._entries.move_to_end(key)
            return found[0], True

    def keep(self, key: Hashable, value: Any) -> None:
        """Keep ``value`` under ``key``; nothing larger than a quarter of the room is."""
        size = OVERHEAD + size_of(value)
        if size > self.room / 4:
            return
        with self._lock:
            old = self._entries.pop(key, None)
            self.size += size - (old[1] if old is not None else 0)
            self._entries[key] = (value, size)
            while self.size > self.room:
                _, (_, gone) = self._entries.popitem(last=False)
                self.size -= gone

    def clear(self) -> None:
        """Let go of everything."""
        with self._lock:
            self._entries.clear()
            self.size = 0


PROCESS = Store()
_current: ContextVar[Store] = ContextVar("store", default=PROCESS)


@contextmanager
def working_in(store: Store) -> Iterator[None]:
    """Let what is computed inside, in this thread, be kept in ``store``."""
    token = _current.set(store)
    try:
        yield
    finally:
        _current.reset(token)


Weigh = Callable[[Any], int]
_WEIGHED: dict[type, Weigh] = {str: lambda text: len(text) + 50, bytes: lambda data: len(data) + 50}


def weighed_by(kind: type, weigh: Weigh) -> None:
    """Tell how many bytes values of ``kind`` take, where that is not seen from their fields."""
    _WEIGHED[kind] = weigh


def size_of(value: Any, depth: int = 3) -> int:
    """About how many bytes a result takes: its arrays, texts and geometries, and a little for each object."""
    own = getattr(value, "nbytes", None)
    if own is not None:
        return int(own) + 100
    weigh = _WEIGHED.get(type(value))
    if weigh is not None:
        return weigh(value)
    if depth == 0:
        return 50
    if isinstance(value, tuple | list):
        return 60 + sum(size_of(one, depth - 1) for one in value)
    return 120 + sum(size_of(one, depth - 1) for one in getattr(value, "__dict__", {}).values())


def kept(function: Callable[P, R]) -> Callable[P, R]:
    """A pure function whose results, and whose refusals, are kept in the store that it runs in.

    Its arguments are hashed and compared by value: frozen structs, numbers, texts, polygons. What compares by
    identity, as columns do, stays alive as long as the result. An argument that is left out and one that is given
    as its default are the same.
    """
    name = f"{function.__module__}.{function.__qualname__}"
    given = [one.default for one in signature(function).parameters.values()]

    @wraps(function)
    def look_up(*args: P.args, **kwargs: P.kwargs) -> R:
        store = _current.get()
        whole = args + tuple(given[len(args) :]) if len(args) < len(given) and not kwargs else args
        key = _Key((name, whole, tuple(kwargs.items())) if kwargs else (name, whole))
        value, found = store.find(key)
        if not found:
            try:
                value = function(*args, **kwargs)
            except CannotStitch as refusal:
                value = _Refusal(str(refusal), refusal.place)
            store.keep(key, value)
        if isinstance(value, _Refusal):
            raise CannotStitch(value.sentence, value.place)
        answer: R = value
        return answer

    return look_up


class Shelf(Protocol):
    """What outlives the process: answers to questions, in bytes; it may forget, and never says anything wrong."""

    def find(self, question: bytes) -> bytes | None:
        """The answer to a question, where it is there."""

    def keep(self, question: bytes, answer: bytes) -> None:
        """Keep an answer."""


_shelf: list[Shelf] = []


def use_shelf(shelf: Shelf | None) -> None:
    """Let what is ``shelved`` in this process be found on a shelf, and put there; ``None``: on none."""
    _shelf[:] = [] if shelf is None else [shelf]


def shelved(question: bytes, make: Callable[[], R], write: Callable[[R], bytes], read: Callable[[bytes], R]) -> R:
    """What ``make`` makes, from the shelf where it lies there: ``write`` and ``read`` turn it into bytes and back.

    ``read`` raises ``ValueError`` for what it did not write; that is made again.
    """
    if not _shelf:
        return make()
    found = _shelf[0].find(question)
    if found is not None:
        with suppress(ValueError):
            return read(found)
    made = make()
    _shelf[0].keep(question, write(made))
    return made


class _Key:
    """A key whose hash is worked out once: that of a large polygon takes longer than finding it."""

    __slots__ = ("_hash", "parts")

    def __init__(self, parts: Hashable) -> None:
        self.parts = parts
        self._hash = hash(parts)

    def __hash__(self) -> int:
        return self._hash

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Key) and self.parts == other.parts


class _Refusal:
    """That an object cannot be stitched, which took as long to find out as its stitches would have."""

    def __init__(self, sentence: str, place: tuple[float, float] | None) -> None:
        self.sentence, self.place = sentence, place
