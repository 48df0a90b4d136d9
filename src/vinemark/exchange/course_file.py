"""The course file as JSON text: read exactly (never through a float), written so that it reads back the same."""

import json
from typing import Any

from vinemark.core.base.refused import NumberText, Refused
from vinemark.core.course.bounds import refuse_oversized
from vinemark.core.course.course import Course
from vinemark.core.course.read import read_course
from vinemark.core.course.write import write_course


def parse_json(text: str) -> object:
    """JSON with bare numbers kept as their text. Raises Refused with the line, or for a key given twice."""
    try:
        return json.loads(
            text,
            parse_float=NumberText,
            parse_int=NumberText,
            parse_constant=_refuse_constant,
            object_pairs_hook=_object,
        )
    except json.JSONDecodeError as error:
        raise Refused(f"line {error.lineno}", f"is not JSON: {error.msg}") from None
    except RecursionError:
        raise Refused("line 1", "is nested too deeply") from None


def _refuse_constant(word: str) -> object:
    raise Refused("", f"{word} is not a number")


def _object(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for key, value in pairs:
        if key in found:
            raise Refused(key, "this key is there twice in one object")
        found[key] = value
    return found


def course_of_text(text: str) -> Course:
    """A course from the text of a course file."""
    return read_course(parse_json(text.removeprefix("\ufeff")))


def read_bytes(data: bytes) -> Course:
    """A course from a file's bytes, which must be UTF-8 and within the limits."""
    try:
        course = course_of_text(data.decode("utf-8-sig"))
    except UnicodeDecodeError as error:
        line = data.count(b"\n", 0, error.start) + 1
        raise Refused(f"line {line}", "is not UTF-8") from None
    refuse_oversized(course)
    return course


def course_text(course: Course) -> str:
    """The course file's text."""
    return json.dumps(write_course(course), ensure_ascii=False, indent=1) + "\n"
