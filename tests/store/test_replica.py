"""What is noted of the copy that is made all the time."""

from pathlib import Path

from vinemark.store.replica import ReplicaState, note_replica, replica_of


def test_what_is_noted_is_read_and_what_is_none_is_nothing(tmp_path: Path) -> None:
    database = tmp_path / "v.sqlite"
    assert replica_of(database) is None
    note_replica(database, ReplicaState("file:///srv/copies", 100.0, None, "is beginning"))
    found = replica_of(database)
    assert found is not None
    assert (found.age(130.0), found.trouble) == (30.0, "is beginning")
    note_replica(database, ReplicaState("file:///srv/copies", 100.0, 125.0))
    again = replica_of(database)
    assert again is not None
    assert again.age(130.0) == 5.0
    (tmp_path / "v.sqlite.copied").write_text('{"to": 1, "else": 2}')
    assert replica_of(database) is None
