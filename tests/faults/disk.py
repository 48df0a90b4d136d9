"""A disk below SQLite that fails where a schedule says: writes, cuts and syncs of every file that is opened meanwhile.

SQLite reaches files through a table of functions (its VFS, https://www.sqlite.org/vfs.html); the ones that write are
replaced in it. The structures are those of https://www.sqlite.org/c3ref/vfs.html and c3ref/io_methods.html.
"""

import ctypes as c
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field

FULL, IO_WRITE, IO_SYNC = 13, 10 | 3 << 8, 10 | 4 << 8
METHODS_SIZE = 8 + 18 * 8
OPEN_AT, WRITE_AT, TRUNCATE_AT, SYNC_AT = 40, 8 + 2 * 8, 8 + 3 * 8, 8 + 4 * 8

_Open = c.CFUNCTYPE(c.c_int, c.c_void_p, c.c_void_p, c.c_void_p, c.c_int, c.c_void_p)
_Write = c.CFUNCTYPE(c.c_int, c.c_void_p, c.c_void_p, c.c_int, c.c_longlong)
_Truncate = c.CFUNCTYPE(c.c_int, c.c_void_p, c.c_longlong)
_Sync = c.CFUNCTYPE(c.c_int, c.c_void_p, c.c_int)
_library = c.CDLL("libsqlite3.so.0")
_library.sqlite3_vfs_find.restype = c.c_void_p
_library.sqlite3_memory_used.restype = c.c_longlong
_library.sqlite3_hard_heap_limit64.argtypes = [c.c_longlong]
_library.sqlite3_hard_heap_limit64.restype = c.c_longlong


_ALIVE: list["Disk"] = []
"""A connection that outlives its block still calls the functions of its disk."""


@dataclass
class Disk:
    """Counts what is asked of it; the call `fails_at` fails with a code, and all after it where it `stays`.

    A write that fails may have written a part before.
    """

    fails_at: int | None = None
    stays: bool = False
    code: int = FULL
    part: float = 0.0
    calls: int = 0
    failed: int = 0
    _tables: dict[int, c.Array[c.c_char]] = field(default_factory=dict)
    _kept: list[object] = field(default_factory=list)

    def plan(self, fails_at: int | None, code: int = FULL, stays: bool = False, part: float = 0.0) -> None:
        """Count from here on, and fail as planned; None for never."""
        self.fails_at, self.code, self.stays, self.part = fails_at, code, stays, part
        self.calls = self.failed = 0

    def _fails(self) -> bool:
        self.calls += 1
        if self.fails_at is None:
            return False
        fails = self.calls >= self.fails_at if self.stays else self.calls == self.fails_at
        self.failed += fails
        return fails

    def table_for(self, original: int) -> int:
        """The table of functions that stands in for a file's own."""
        if original not in self._tables:
            self._tables[original] = self._made_for(original)
        return c.addressof(self._tables[original])

    def _made_for(self, original: int) -> c.Array[c.c_char]:
        table = c.create_string_buffer(c.string_at(original, METHODS_SIZE), METHODS_SIZE)
        write, truncate, sync = (
            kind(_pointer(original + at).value or 0)
            for kind, at in ((_Write, WRITE_AT), (_Truncate, TRUNCATE_AT), (_Sync, SYNC_AT))
        )

        def failing_write(file: int, data: int, size: int, offset: int) -> int:
            if not self._fails():
                return int(write(file, data, size, offset))
            if self.part:
                write(file, data, int(size * self.part), offset)
            return self.code

        def failing_truncate(file: int, size: int) -> int:
            return self.code if self._fails() else int(truncate(file, size))

        def failing_sync(file: int, flags: int) -> int:
            return self.code if self._fails() else int(sync(file, flags))

        made: list[tuple[int, Callable[..., int]]] = [
            (WRITE_AT, _Write(failing_write)),
            (TRUNCATE_AT, _Truncate(failing_truncate)),
            (SYNC_AT, _Sync(failing_sync)),
        ]
        for at, function in made:
            _pointer(c.addressof(table) + at).value = c.cast(function, c.c_void_p).value  # type: ignore[arg-type]
            self._kept.append(function)
        return table


def _pointer(address: int) -> c.c_void_p:
    return c.c_void_p.from_address(address)


@contextmanager
def below_sqlite(disk: Disk) -> Iterator[Disk]:
    """Every database file that is opened within the block stands on this disk."""
    _ALIVE.append(disk)
    place = _pointer(_library.sqlite3_vfs_find(None) + OPEN_AT)
    before = place.value
    original = _Open(before or 0)

    def opening(vfs: int, name: int | None, file: int, flags: int, out: int | None) -> int:
        # The name goes on as the pointer it is: SQLite keeps it for as long as the file is open.
        done = int(original(vfs, name, file, flags, out))
        methods = _pointer(file)
        if done == 0 and methods.value:
            methods.value = disk.table_for(methods.value)
        return done

    replaced = _Open(opening)
    disk._kept.append(replaced)
    place.value = c.cast(replaced, c.c_void_p).value
    try:
        yield disk
    finally:
        place.value = before
        disk.plan(None)


@contextmanager
def memory_left(size: int) -> Iterator[None]:
    """SQLite can take no more than so many bytes beyond what it has."""
    before = _library.sqlite3_hard_heap_limit64(_library.sqlite3_memory_used() + size)
    try:
        yield
    finally:
        _library.sqlite3_hard_heap_limit64(before)
