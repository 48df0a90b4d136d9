"""Whatever is done to a sealed history shows, at its entry."""

import random
from collections.abc import Callable
from dataclasses import replace
from hashlib import sha256

import pytest

from vinemark.core.base.chain import SealedEntry, chain_faults, entry_digest, next_seal


def chain(length: int = 6) -> list[SealedEntry]:
    """Entries of which the fourth undoes the second."""
    made: list[SealedEntry] = []
    for number in range(1, length + 1):
        said = ["2026-12-19T10:00:00", "scores", f"score {number}", None, "[9]", "Maren"]
        undoes = 2 if number == 4 else None
        digest = entry_digest(f"{number:02}", said, made[1].seal if undoes else "")
        made.append(SealedEntry(number, said, undoes, f"{number:02}", next_seal(made[-1].seal if made else "", digest)))
    return made


def faults(entries: list[SealedEntry]) -> list[int]:
    return [fault.entry for fault in chain_faults(entries)]


def test_a_chain_as_it_is_written_has_no_fault() -> None:
    assert faults(chain()) == []
    assert faults([]) == []


def test_the_seal_is_sha_256_over_the_one_before_it() -> None:
    # FIPS 180-4: the digest of "abc", a published example.
    assert sha256(b"abc").hexdigest() == "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad"
    assert next_seal("a", "b") == sha256(b"a b").hexdigest()


@pytest.mark.parametrize(
    ("change", "place"),
    [
        (lambda c: [*c[:2], replace(c[2], said=[*c[2].said[:4], "[10]", "Maren"]), *c[3:]], [3]),
        (lambda c: [*c[:2], replace(c[2], said=[*c[2].said[:5], "Somebody"]), *c[3:]], [3]),
        (lambda c: [*c[:2], *c[3:]], [4]),
        (lambda c: c[1:], [2]),
        (lambda c: [c[0], c[2], c[1], *c[3:]], [3, 2, 4]),
        (lambda c: [*c[:3], replace(c[3], undoes=1), *c[4:]], [4]),
        (lambda c: [*c[:3], replace(c[3], undoes=None), *c[4:]], [4]),
        (lambda c: [*c[:3], replace(c[2], id=9), *c[3:]], [9]),
        (lambda c: [replace(one, seal="") for one in c[:2]] + c[2:], [3, 4]),
        (lambda c: [*c[:5], replace(c[5], seal="")], [6]),
        (lambda c: [*c[:5], replace(c[5], first_digest="00")], [6, 6]),
    ],
)  # fmt: skip
def test_each_alteration_shows_where_it_was_made(
    change: Callable[[list[SealedEntry]], list[SealedEntry]], place: list[int]
) -> None:
    assert faults(change(chain())) == place


def test_entries_from_before_there_were_seals_stand_before_the_chain() -> None:
    older = SealedEntry(0, ["2026-09-01T10:00:00", "section", "added", None, None, "Maren"], None, "", "")
    assert faults([older, *chain()]) == []


def test_what_a_deletion_rewrote_is_held_by_the_entry_of_the_deletion() -> None:
    first, *rest = chain(1)
    rewritten = replace(
        first, said=[*first.said[:2], "a deleted student", *first.said[3:]], salt="zz",
        first_digest=entry_digest(first.salt, first.said, ""),
    )  # fmt: skip
    said = ["2026-12-20T10:00:00", "student-deleted", "deleted", None, "the new digests", "Maren"]
    deleting = SealedEntry(
        2, said, None, "dd", next_seal(first.seal, entry_digest("dd", said, "")),
        rewrote={first.seal: entry_digest("zz", rewritten.said, "")},
    )  # fmt: skip
    assert faults([rewritten, *rest, deleting]) == []
    again = replace(rewritten, said=[*rewritten.said[:2], "altered later", *rewritten.said[3:]])
    assert faults([again, deleting]) == [1]
    assert faults([rewritten, replace(deleting, rewrote={})]) == [1]


def test_a_cut_at_the_end_alone_does_not_show_but_by_a_seal_kept_elsewhere() -> None:
    entries = chain()
    kept_elsewhere = entries[-1].seal
    shorter = entries[: random.Random(3).randrange(1, 5)]
    assert faults(shorter) == []
    assert kept_elsewhere not in {one.seal for one in shorter}
