"""The second step of signing in: what is kept of it."""

import json
from collections.abc import Sequence

from vinemark.store.database import Connection, transaction
from vinemark.store.history import Act, writing


def write_second_step(connection: Connection, act: Act, person_id: int, secret: str, recovery: Sequence[str]) -> None:
    """Keep a secret and the hashes of the recovery codes; an empty secret ends the second step."""
    with writing(connection, act, "person") as entry:
        connection.execute(
            "UPDATE person SET second_step = ?, second_step_used = 0, recovery = ? WHERE id = ?",
            (secret or None, json.dumps(list(recovery)), person_id),
        )
        entry.what = "second step of signing in set up" if secret else "second step of signing in ended"


def use_step(connection: Connection, person_id: int, step: int) -> bool:
    """Use a step of time for a person; False where it, or a later one, was used before."""
    done = connection.execute(
        "UPDATE person SET second_step_used = ? WHERE id = ? AND second_step_used < ?", (step, person_id, step)
    )
    return done.rowcount > 0


def use_recovery(connection: Connection, person_id: int, code_hash: str) -> bool:
    """Use a recovery code, once; whether there was one."""
    with transaction(connection):
        row = connection.execute("SELECT recovery FROM person WHERE id = ?", (person_id,)).fetchone()
        left = json.loads(row["recovery"]) if row else []
        if code_hash not in left:
            return False
        left.remove(code_hash)
        connection.execute("UPDATE person SET recovery = ? WHERE id = ?", (json.dumps(left), person_id))
    return True
