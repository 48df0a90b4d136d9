"""What letters say. No score and no grade is ever in one: they lead to where it is read after signing in."""

from vinemark.core.course.course import SectionName
from vinemark.store.outbox import Letter

ROLE_NAMES = {"instructor": "an instructor", "grader": "a grader", "reviewer": "a reviewer"}
LINK_SUBJECT = "Choose a new password"
NOT_YOU = "If you did not ask for this, do nothing: your password stays as it is."


def password_letter(to: str, name: str, link: str) -> Letter:
    """A link by which somebody chooses another password."""
    return Letter(
        to,
        LINK_SUBJECT,
        f"{name},\n\nchoose a new password here. The link works once, within an hour:\n\n{link}\n\n{NOT_YOU}\n",
    )


def password_changed_letter(to: str, name: str) -> Letter:
    """That a password was changed by such a link."""
    text = (
        f"{name},\n\nyour password was changed by a link that was sent to this address, and you were signed out"
        " everywhere.\nIf that was not you, tell whoever runs Vine Mark at your college now.\n"
    )
    return Letter(to, "Your password was changed", text)


def address_letter(to: str, name: str, link: str) -> Letter:
    """A link that shows that a new email address is its person's."""
    text = f"{name},\n\nuse this address for your account by this link. It works once, within an hour:\n\n{link}\n"
    return Letter(to, "Your new email address", text)


def address_changed_letter(to: str, name: str, new: str) -> Letter:
    """To the address of before: that it is no longer the account's."""
    text = (
        f"{name},\n\nyour account has another email address from now on: {new}.\n"
        "If that was not you, tell whoever runs Vine Mark at your college now.\n"
    )
    return Letter(to, "Your email address was changed", text)


def part_letter(to: str, by: str, section: SectionName, role: str, link: str) -> Letter:
    """That somebody has a part in a section, with the link to it, by which an account is made where there is none."""
    text = (
        f"{by} made you {ROLE_NAMES[role]} of {section.short}, {section.title}.\n\nOpen it here; if you have no account"
        f" yet, you make one first:\n\n{link}\n"
    )
    return Letter(to, f"You are {ROLE_NAMES[role]} of {section.short}", text)


def invited_letter(to: str, name: str, college: str, link: str) -> Letter:
    """That somebody can make an account."""
    at = f" at {college}" if college else ""
    hello = f"{name},\n\n" if name else ""
    text = f"{hello}you are invited to Vine Mark{at}, where grades are worked out. Make your account here:\n\n{link}\n"
    return Letter(to, "Your account for Vine Mark", text)


def told_letter(to: str, by: str, section: SectionName, link: str, more: str = "") -> Letter:
    """That there is something to see on a student's statement."""
    said = f"\n{by} writes:\n\n{more}\n" if more else ""
    text = (
        f"There is something new on your statement of {section.short}, {section.title}.\n{said}\nRead it here; if you"
        f" have no account yet, you make one first:\n\n{link}\n"
    )
    return Letter(to, f"Something new in {section.short}", text)


def removal_letter(to: str, name: str, section: SectionName, term: str, link: str) -> Letter:
    """That a section was kept for as long as the college keeps sections."""
    text = (
        f"{name},\n\n{section.short}, {section.title} of {term} was kept for as long as your college keeps sections. It"
        f" will be archived and removed; its receipts stay. Take out now what you still need of it:\n\n{link}\n"
    )
    return Letter(to, f"{section.short} of {term} will be archived and removed", text)


def answered_letter(to: str, section: SectionName, item: str, link: str) -> Letter:
    """That a question was answered."""
    text = f"Your question about {item} in {section.short} was answered. Read it here:\n\n{link}\n"
    return Letter(to, f"Your question in {section.short} was answered", text)
