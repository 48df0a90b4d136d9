"""Who may do what: every route that speaks of a section, for every role in it."""

from typing import Any, Literal

import pytest

from tests.web.conftest import Site
from tests.web.test_people_and_privacy import give_role
from vinemark.store.database import connect

Role = Literal["instructor", "reviewer", "grader"]
ALL: tuple[Role, ...] = ("instructor", "reviewer", "grader")
WHOLE: tuple[Role, ...] = ("instructor", "reviewer")
SCORES: tuple[Role, ...] = ("instructor", "grader")
OWN: tuple[Role, ...] = ("instructor",)

# Every endpoint with the roles that it serves; all others get 403, strangers 404.
MAY: dict[str, tuple[Role, ...]] = {
    # reading the plan and the scores
    "plan.show": ALL, "plan.copy": ALL, "plan.try_percent": ALL, "plan.versions": ALL, "plan.typed_ribbon": ALL,
    "syllabus.show": ALL, "syllabus.point_form": ALL, "scores.show": ALL, "scores.find_hits": ALL,
    "scores.since": ALL, "class_list.show": ALL, "papers.class_list": ALL,
    "section_people.show": ALL,
    "scores.margin": ALL, "scores.column_margin": ALL, "scores.cell_history": ALL,
    "papers.student_working": ALL, "papers.moves": ALL, "papers.try_score": ALL, "exports.choose": ALL,
    "made.show": ALL, "made.progress": ALL, "made.give": ALL,
    # reading what is settled, why, and what the registrar has
    "audit.show": WHOLE, "audit.try_cutoffs": WHOLE, "outside_totals.choose": WHOLE, "outside_totals.look": WHOLE,
    "outside_totals.show": WHOLE, "outside_totals.on_paper": WHOLE,
    "papers.audit_document": WHOLE, "papers.student_record": WHOLE, "papers.all_records": WHOLE,
    "settle.show": WHOLE, "settle.about": WHOLE, "submit.show": WHOLE, "submit.news": WHOLE,
    "submit_papers.codes": WHOLE, "submit_papers.comparison": WHOLE, "submit_papers.proof": WHOLE,
    "submit_papers.proof_table": WHOLE, "submit_papers.receipt": WHOLE, "submit_papers.signed": WHOLE,
    "after.show": WHOLE, "after.news": WHOLE, "after.evidence": WHOLE, "after.make_archive": WHOLE,
    "statement.preview": WHOLE, "statement.try_theirs": WHOLE,
    "history.show": WHOLE, "history.detail": WHOLE, "exports.take": WHOLE,
    # entering scores; a remark is everybody's, its route is that of the cells
    "scores.cells": SCORES, "scores.paste": SCORES, "scores.undo": SCORES,
    "scores.late_effect": SCORES, "scores.late_do": SCORES,
    "scores.column_effect": SCORES, "scores.column_do": SCORES, "score_files.choose": SCORES,
    "score_files.put_in": SCORES, "score_files.look": SCORES,
    "score_files.found": SCORES, "score_files.match": SCORES, "score_files.take": SCORES,
    "groups.show": SCORES, "groups.members": SCORES, "groups.even": SCORES, "groups.same": SCORES,
    "groups.scores": SCORES,
    # one's own statement, which none of them has here
    "entry.show": ALL, "entry.save": ALL, "statement.show": ALL, "statement.try_own": ALL, "statement.ask": ALL,
    # undoing says in words what it refuses
    "history.undo_entry": ALL,
}  # fmt: skip


def own() -> set[str]:
    """What only the instructor does: everything that is not listed above."""
    return {
        "scores.choose_visibility", "scores.adjust", "scores.extend",
        "audit.accept", "audit.accept_all", "audit.fix", "audit.preview_cutoffs", "audit.reopen",
        "plan.apply_preview", "plan.bring_back", "plan.change", "plan.copy_plan", "plan.discard_preview",
        "plan.remove_scale", "plan.save_scale", "plan.use_scale", "syllabus.facts", "syllabus.facts_kept",
        "syllabus.follow_rule", "syllabus.make_rule",
        "syllabus.note", "syllabus.point", "syllabus.put_in", "syllabus.sign", "settle.add_from_roster",
        "settle.set_aside", "settle.settle_one", "settle.settle_rest", "settle.show_grades", "submit.check_copy",
        "submit.follow_roster", "submit.refresh", "submit.send", "submit.sign", "submit.take_answer", "submit.update",
        "outside_totals.remove", "submit.withdraw_signature", "submit_papers.grade_file",
        "after.ask", "after.ask_again", "after.check_copy",
        "after.refresh", "deleting.ask", "deleting.delete", "deleting.ask_student",
        "deleting.delete_student", "class_list.add", "class_list.add_trial", "class_list.remove_trial",
        "class_list.correct", "class_list.joined", "class_list.put_back",
        "class_list.remove", "class_list.set_aside", "class_list.take_ids", "class_list.withdraw", "bring.look",
        "bring.look_again", "bring.take", "exports.rename", "exports.put_away",
        "seen.show", "seen.look", "seen.choose", "seen.tell_them", "seen.show_to", "section_people.invite",
        "section_people.add", "section_people.limit", "section_people.change",
        "questions.show", "questions.answer", "looked.show", "looked.take", "moving.show", "moving.move",
        "rosters.show", "rosters.add", "rosters.remove",
    }  # fmt: skip


def endpoints(site: Site) -> dict[str, list[tuple[str, str]]]:
    """Methods and addresses of every endpoint that speaks of a section, by its name."""
    section = site.section("HYDR 410-01")
    course = site.course(section)
    known = {"student_id": course.students[0].id, "item_id": next(i.id for _, i in course.plan.items()), "after": 0,
             "name": "course", "section_id": section}  # fmt: skip
    adapter = site.app.url_map.bind("localhost")
    found: dict[str, list[tuple[str, str]]] = {}
    for rule in site.app.url_map.iter_rules():
        if "section_id" in rule.arguments:
            values = {name: known.get(name, 1) for name in rule.arguments}
            address = adapter.build(rule.endpoint, values)
            found.setdefault(rule.endpoint, []).extend((m, address) for m in (rule.methods or set()) & {"GET", "POST"})
    return found


def become(site: Site, role: Role) -> None:
    with connect(site.folder / "vinemark.sqlite") as connection:
        connection.execute(
            "UPDATE section_person SET role = ? WHERE section_id = ?", (role, site.section("HYDR 410-01"))
        )
    connection.close()


def test_every_route_is_in_the_table(site: Site) -> None:
    assert set(endpoints(site)) == set(MAY) | own()
    assert not set(MAY) & own()


@pytest.mark.parametrize("role", ALL)
def test_a_role_reaches_what_is_its_own_and_nothing_else(site: Site, role: Role) -> None:
    become(site, role)
    for endpoint, asked in endpoints(site).items():
        for method, address in asked:
            more: dict[str, Any] = {"json": {"cells": []}} if endpoint in {"scores.cells", "scores.undo"} else {}
            status = site.browser.open(address, method=method, **more).status_code
            assert (status != 403) == (role in MAY.get(endpoint, OWN)), (role, method, endpoint, status)
            assert status < 500


@pytest.mark.parametrize("name", ["course", "oneroster", "results", "workbook"])
def test_a_grader_takes_scores_out_and_no_settled_grade(site: Site, name: str) -> None:
    become(site, "grader")
    section = site.section("HYDR 410-01")
    assert site.browser.get(f"/s/{section}/files/{name}").status_code == 403
    assert site.browser.get(f"/s/{section}/files/scores-csv").status_code == 200
    assert name not in site.browser.get(f"/s/{section}/files").text.partition("</table>")[0].split("/files/")


def test_a_grader_is_led_to_no_page_that_is_closed(site: Site) -> None:
    become(site, "grader")
    section = site.section("HYDR 410-01")
    for address in ("/", f"/s/{section}/plan", f"/s/{section}/scores", f"/s/{section}/files", f"/s/{section}/syllabus"):
        page = site.browser.get(address).text
        for step in ("audit", "settle", "submit", "after", "history"):
            assert f'href="/s/{section}/{step}' not in page, (address, step)


def test_a_role_that_is_taken_away_shuts_at_the_next_request(site: Site) -> None:
    section = site.section("SOIL 210-01")
    give_role(site, section, "reviewer")
    assert site.browser.get(f"/s/{section}/scores").status_code == 200
    with connect(site.folder / "vinemark.sqlite") as connection:
        connection.execute("DELETE FROM section_person WHERE section_id = ? AND role = 'reviewer'", (section,))
    connection.close()
    assert site.browser.get(f"/s/{section}/scores").status_code == 404
