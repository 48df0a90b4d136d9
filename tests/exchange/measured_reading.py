"""What is run in the process apart: it loads nothing that reading itself does not."""

import resource
from collections.abc import Callable
from typing import Any

from vinemark.core.base.refused import Refused


def measured(reader: Callable[..., Any], *given: Any) -> tuple[float, int, str]:
    """Seconds of CPU, kB of memory at most, and the refusal."""
    before = resource.getrusage(resource.RUSAGE_SELF)
    try:
        reader(*given)
        said = ""
    except MemoryError:
        said = "no memory"
    except (Refused, RecursionError) as refused:
        said = str(refused)
    after = resource.getrusage(resource.RUSAGE_SELF)
    return after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime, after.ru_maxrss, said
