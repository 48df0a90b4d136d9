"""A form of the plan's page as it was sent."""

from collections.abc import Callable, Collection
from dataclasses import dataclass

from werkzeug.datastructures import MultiDict

from vinemark.core.plan.plan import Plan


@dataclass(frozen=True)
class TypedEdit:
    """A form as it was sent, and the ids that the section's plan ever had."""

    form: MultiDict[str, str]
    used: Callable[[], Collection[str]]

    def get(self, name: str, default: str = "") -> str:
        """A field, empty where it was not sent."""
        return self.form.get(name, default)


Edit = Callable[[Plan, TypedEdit], tuple[Plan, str]]
