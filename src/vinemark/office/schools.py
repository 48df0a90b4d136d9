"""Two sample schools whose rules differ; an office is given one of them, or any other of this shape.

Which codes need a date, how never attended is said, what an incomplete needs: common practice, no source.
"""

from typing import Any

School = dict[str, Any]

_LETTERS = [{"code": letter, "basis": ["letter"]} for letter in ("A", "A-", "B+", "B", "B-", "C+", "C", "C-", "D")]

LARKMOOR: School = {
    "name": "Larkmoor College",
    "rules": {
        "codes": [
            *_LETTERS,
            {"code": "F", "basis": ["letter"], "needs": ["last_attended"]},
            {"code": "P", "basis": ["pass"]},
            {"code": "NP", "basis": ["pass"], "needs": ["last_attended"]},
            {"code": "I", "basis": ["letter", "pass"], "needs": ["fallback_grade", "finish_by"]},
            {"code": "W", "office_only": True},
        ],
        "incomplete_limit_days": 365,
        "incomplete_fallback": None,
        "incomplete_finish_by": None,
        "never_attended": "first_day",
        "pass_from": "C-",
    },
    "arrangements": {
        "transfers": [["12:00", "12:20"], ["23:30", "00:15"]],
        "file": {
            "columns": [
                ["Batch", "key"], ["Section", "section"], ["Student Id", "id"], ["Student", "name"],
                ["Final Grade", "code"], ["Last Attended", "last_attended"], ["Attended (h)", "hours"],
                ["Falls Back To", "fallback_grade"], ["Finish By", "finish_by"], ["Work Owed", "owed"],
            ],
            "dates": "YYYY-MM-DD",
        },
    },
}  # fmt: skip

LAKESIDE: School = {
    "name": "Larkmoor Lakeside Campus",
    "rules": {
        "codes": [
            *_LETTERS,
            {"code": "F"},
            {"code": "X", "basis": ["letter"], "needs": ["last_attended"]},
            {"code": "CR", "basis": ["pass"]},
            {"code": "NC", "basis": ["pass"], "needs": ["last_attended"]},
            {"code": "INC", "needs": ["fallback_grade", "finish_by"]},
            {"code": "AU", "office_only": True},
            {"code": "WD", "office_only": True},
        ],
        "incomplete_limit_days": 120,
        "incomplete_fallback": "F",
        "incomplete_finish_by": "2027-03-31",
        "never_attended": "zero_hours",
        "pass_from": "C",
    },
    "arrangements": {
        "transfers": [["02:00", "03:30"]],
        "file": {
            "columns": [
                ["STUDENT", "id"], ["GRADE", "code"], ["LDA", "last_attended"], ["HRS", "hours"],
                ["DEFAULT", "fallback_grade"], ["COMPLETE BY", "finish_by"], ["REMARK", "owed"],
                ["CLASS", "section"], ["REFERENCE", "key"],
            ],
            "dates": "MM/DD/YYYY",
        },
    },
}  # fmt: skip

SAMPLES: dict[str, School] = {"larkmoor": LARKMOOR, "lakeside": LAKESIDE}
