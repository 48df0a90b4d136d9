"""Routes made ready quickly: the applications of one process have the same addresses, and few of them are built."""

from collections.abc import Callable
from typing import Any

from werkzeug.routing import Rule


def quick_routes() -> None:
    """Let what builds an address be compiled when it is asked for, and once for all applications of this process."""
    made: dict[tuple[Any, ...], Callable[..., tuple[str, str]]] = {}
    original = Rule._compile_builder

    def asked_for(rule: Rule, append_unknown: bool = True) -> Callable[..., tuple[str, str]]:
        key = (tuple(rule._trace), tuple(sorted((rule.defaults or {}).items())), append_unknown)

        def build(of: Rule, /, **values: Any) -> tuple[str, str]:
            if key not in made:
                made[key] = original(of, append_unknown)
            return made[key](of, **values)

        return build

    Rule._compile_builder = asked_for  # type: ignore[assignment, method-assign]  # the class is the library's
