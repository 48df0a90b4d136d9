"""Commands of Vine Mark as processes of their own, forked from one that has loaded everything once.

A process that begins from nothing spends two seconds on loading; tests start a hundred of them. That a fresh one
starts is tested with the command line.
"""

import multiprocessing
import os
import signal
import threading
from collections.abc import Mapping, Sequence
from multiprocessing.context import ForkServerProcess

from tests.quick_routes import quick_routes

_FORKS = multiprocessing.get_context("forkserver")
_FORKS.set_forkserver_preload(
    ["vinemark.cli", "vinemark.commands.serve", "vinemark.commands.office", "vinemark.exchange.readers"]
)
NEVER = threading.TIMEOUT_MAX


def launch(arguments: Sequence[str], environment: Mapping[str, str]) -> ForkServerProcess:
    """Start 'vinemark ARGUMENTS' in a process group of its own."""
    process = _FORKS.Process(target=_command, args=(list(arguments), dict(environment)))
    process.start()
    return process


def _command(arguments: list[str], environment: dict[str, str]) -> None:
    os.setsid()
    signal.signal(signal.SIGINT, signal.SIG_DFL)
    os.environ.update(environment)
    quick_routes()
    from vinemark.cli import main  # noqa: PLC0415  # loaded in the process that this one was forked from
    from vinemark.exchange import apart  # noqa: PLC0415  # as above

    # Most tests read no file: what reads and makes them, seconds of loading, is started by who needs it.
    apart.PREPARED_AFTER = NEVER  # type: ignore[misc]  # in this process alone
    main(arguments)


def end(process: ForkServerProcess, how: signal.Signals, seconds: float) -> None:
    """End a process; SIGKILL ends its workers too."""
    assert process.pid is not None
    if how == signal.SIGKILL:
        try:
            os.killpg(process.pid, how)
        except ProcessLookupError:
            process.kill()
    else:
        os.kill(process.pid, how)
    process.join(seconds)
    assert not process.is_alive()
