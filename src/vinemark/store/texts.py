"""JSON kept in columns, read with every digit."""

import json

from vinemark.core.course_format import NumberText


def parsed(text: str) -> object:
    """JSON values with bare numbers kept as their text, as the core's readers take them."""
    return json.loads(text, parse_float=NumberText, parse_int=NumberText)
