"""Syllabuses in many styles, each with the facts that should come out of it. All are made up."""

from dataclasses import dataclass, field


@dataclass
class Said:
    """A category as the document says it."""

    name: str
    weight: str | None = None
    points: str | None = None
    count: int | None = None
    each: str | None = None
    drop: int = 0
    best: int | None = None
    extra: bool = False
    also: tuple[str, ...] = ()


@dataclass
class Document:
    """A text and what it says; a scale as 'A 93, B 83'."""

    name: str
    text: str
    categories: list[Said]
    scale: str = ""
    basis: str | None = "weighted"
    unit: str | None = "percent"
    rounding: object = "silent"
    blanks: str | None = None
    unread: list[str] = field(default_factory=list)


TENS = "A 90, B 80, C 70, D 60, F 0"
FINE = "A 93, A- 90, B+ 87, B 83, B- 80, C+ 77, C 73, C- 70, D 60, F 0"

DOCUMENTS = [
    Document(
        "table with pipes and a letter line",
        """HYDR 230 Watershed Field Methods

## How grades are made

| Part | How many | Share |
|---|---|---|
| Field notebooks | 6 | 20% |
| Map quizzes | 8 | 15% |
| Lab practicals | 2 | 25% |
| Seminar | | 10% |
| Survey report | 1 | 30% |

The lowest notebook is dropped, and so are the two lowest map quizzes.

Grades: A 93-100, A- 90-92, B+ 87-89, B 83-86, B- 80-82, C+ 77-79, C 73-76, C- 70-72, D 60-69, F below 60.
Final percentages are rounded to two decimals.
""",
        [Said("Field notebooks", "20", count=6, drop=1), Said("Map quizzes", "15", count=8, drop=2),
         Said("Lab practicals", "25", count=2), Said("Seminar", "10"), Said("Survey report", "30", count=1)],
        FINE, rounding=2,
    ),
    Document(
        "dotted list",
        """BOTN 105 - Orchard Science
Grading

Problem sets (10) .............. 30%
Orchard visits (4) ............. 20%
Midterm ........................ 20%
Final exam ..................... 30%

Your lowest problem set will be dropped. A = 90 and above, B = 80 to 89, C = 70 to 79, D = 60 to 69, F = below 60.
Anything you do not turn in counts as a zero.
Late problem sets lose 10% per day.
""",
        [Said("Problem sets", "30", count=10, drop=1), Said("Orchard visits", "20", count=4), Said("Midterm", "20"),
         Said("Final exam", "30")],
        TENS, blanks="zero",
    ),
    Document(
        "points table with a total",
        """Course points

Twig quizzes        10 @ 10 pts      100
Midterms            2 @ 75 pts       150
Herbarium                            100
Orchard log                           50
Final exam                           100
Total                                500

Letter grades: 450 points or more is an A, 400 or more a B, 350 or more a C, 300 or more a D, and less than 300 an F.
""",
        [Said("Twig quizzes", points="100", count=10, each="10"), Said("Midterms", points="150", count=2, each="75"),
         Said("Herbarium", points="100"), Said("Orchard log", points="50"), Said("Final exam", points="100")],
        "A 450, B 400, C 350, D 300, F 0", basis="points", unit="points",
    ),
    Document(
        "flowing prose with fractions",
        """In this studio course half of your grade comes from the four woven pieces, a quarter from the sample book, and
15 percent from critiques. The remaining ten percent is for keeping the studio in order.

I do not round. An A starts at 92, a B at 82, a C at 72, a D at 62.

Pieces that never reach the wall get a zero.
""",
        [Said("Woven pieces", "50", count=4), Said("Sample book", "25"), Said("Critiques", "15"),
         Said("Keeping the studio in order", "10", also=("Studio order", "Studio", "Keeping the studio"))],
        "A 92, B 82, C 72, D 62", rounding=None, blanks="zero",
    ),
    Document(
        "weights before names",
        """Assessment
* 40% - Two midterm exams (20% each)
* 25% - Final project
* 20% - Weekly labs, lowest two dropped
* 15% - Class participation

Scale
A: 94+
A-: 90
B+: 87
B: 84
B-: 80
C: 70
D: 60
F: under 60
""",
        [Said("Midterm exams", "40", count=2), Said("Final project", "25"), Said("Weekly labs", "20", drop=2),
         Said("Class participation", "15")],
        "A 94, A- 90, B+ 87, B 84, B- 80, C 70, D 60, F 0",
    ),
    Document(
        "each item a category of its own",
        """EVALUATION OF STUDENTS
Test 1: 15%
Test 2: 20%
Test 3: 25%
Homework (12 sets, best 10 count): 20%
Final presentation: 20%

Grades are assigned on a 90/80/70/60 scale. Averages are rounded to the nearest whole number.
""",
        [Said("Test 1", "15"), Said("Test 2", "20"), Said("Test 3", "25"), Said("Homework", "20", count=12, best=10),
         Said("Final presentation", "20")],
        "A 90, B 80, C 70, D 60", rounding=0,
    ),
    Document(
        "a group with its members",
        """Grade breakdown

| Component | Percent of grade |
| Exams | 60% |
|   Midterm 1 | 15% |
|   Midterm 2 | 15% |
|   Final exam | 30% |
| Homework | 25% |
| Lab notebook | 15% |
| Total | 100% |

No late work is accepted.
""",
        [Said("Midterm 1", "15"), Said("Midterm 2", "15"), Said("Final exam", "30"), Said("Homework", "25"),
         Said("Lab notebook", "15")],
        unit=None,
    ),
    Document(
        "rubric beside the plan",
        """# Ceramics II

## What counts
- Vessels (5): 50%
- Glaze tests: 20%
- Sketchbook: 15%
- Attendance and studio care: 15%

## How each vessel is graded
- Form 40%
- Surface 30%
- Craft 30%

## Letters
A 90-100%, B 80-89%, C 70-79%, D 60-69%, F 0-59%
Missing vessels count as zero.
""",
        [Said("Vessels", "50", count=5), Said("Glaze tests", "20"), Said("Sketchbook", "15"),
         Said("Attendance and studio care", "15")],
        TENS, blanks="zero",
    ),
    Document(
        "a long paragraph of weights",
        """Your course grade will be based on homework (25%), eight quizzes (20%, with the lowest one dropped), a term paper
(25%), and a comprehensive final exam (30%). Extra credit: attending a museum night adds up to 2% to your final grade.
Cutoffs are the usual ones: 90 and above is an A, 80 and above is a B, 70 and above is a C, 60 and above is a D.
""",
        [Said("Homework", "25"), Said("Quizzes", "20", count=8, drop=1), Said("Term paper", "25"),
         Said("Comprehensive final exam", "30", also=("Final exam",)), Said("Extra credit", "2", extra=True, also=("Museum night",))],
        "A 90, B 80, C 70, D 60",
    ),
    Document(
        "points course in prose",
        """There are 1000 points in this course. The five field reports are worth 100 points each. The midterm is worth
150 points and the final exam 250 points. Participation is worth 100 points. I drop nothing.

You need 900 points for an A, 800 for a B, 700 for a C and 600 for a D.
If you miss a report you will receive a zero for it.
""",
        [Said("Field reports", points="500", count=5, each="100"), Said("Midterm", points="150"),
         Said("Final exam", points="250"), Said("Participation", points="100")],
        "A 900, B 800, C 700, D 600", basis="points", unit="points", blanks="zero",
    ),
    Document(
        "scale in a table, letters last",
        """Grading policy: Quizzes 30%; Workshops 30%; Final project 40%.

Percent        Letter
93 - 100       A
90 - 92.99     A-
87 - 89.99     B+
83 - 86.99     B
80 - 82.99     B-
70 - 79.99     C
60 - 69.99     D
0 - 59.99      F

Workshops meet on Tuesdays. There are ten quizzes; the two lowest are not counted. Quiz answers should be rounded to
three significant digits.
""",
        [Said("Quizzes", "30", count=10, drop=2), Said("Workshops", "30"), Said("Final project", "40")],
        "A 93, A- 90, B+ 87, B 83, B- 80, C 70, D 60, F 0",
    ),
    Document(
        "weights that do not add up",
        """Grades. Homework 20%, labs 20%, two exams at 25% each. (Yes, that is 90; the rest we decide together in week 3.)

Final course grades use A (90), B (80), C (70), D (60), F (0).
""",
        [Said("Homework", "20"), Said("Labs", "20"), Said("Exams", "50", count=2)],
        TENS,
    ),
    Document(
        "traps all around",
        """ATTENDANCE
You may miss two classes freely. After that each absence lowers your grade by 1%. You must attend 80% of the labs.

LATE WORK
Late reports lose 5% a day up to 50%.

GRADES
Lab reports count for 45 percent of the course grade, the lab practical for 20 percent and the final exam for
35 percent. The lowest lab report score will be dropped. A passing grade on the final (at least 50%) is required to pass
the course.

Letter grades follow the department's scale: A 88-100, B 76-87, C 64-75, D 52-63, F 0-51. Course averages are rounded to
one decimal place. Plagiarised reports receive a zero.

EXAM FORMAT
The final has 40% multiple choice, 40% problems and 20% essay.
""",
        [Said("Lab reports", "45", drop=1), Said("Lab practical", "20"), Said("Final exam", "35")],
        "A 88, B 76, C 64, D 52, F 0", rounding=1,
        unread=["After that each absence lowers your grade by 1%.",
                "A passing grade on the final (at least 50%) is required to pass the course."],
    ),
    Document(
        "three thirds",
        """Marks: one third of the final mark is the essay portfolio, one third is the fieldwork diary, and one third is the oral
examination. Marks are not rounded. Work not submitted by the last day earns no points, that is, a zero.
""",
        [Said("Essay portfolio", "33.33"), Said("Fieldwork diary", "33.33"), Said("Oral examination", "33.33")],
        unit=None, rounding=None, blanks="zero",
    ),
    Document(
        "extra credit in the table",
        """| Assignment type | Points each | Number | Total points |
|---|---|---|---|
| Problem sets | 20 | 10 | 200 |
| Reading responses | 5 | 20 | 100 |
| Midterm exam | 100 | 1 | 100 |
| Final exam | 200 | 1 | 200 |
| Extra credit: garden day | | | 15 |
| **Total** | | | **600** |

A: 540-600 points; B: 480-539; C: 420-479; D: 360-419; F: 0-359.
""",
        [Said("Problem sets", points="200", count=10, each="20"), Said("Reading responses", points="100", count=20, each="5"),
         Said("Midterm exam", points="100", count=1, each="100"), Said("Final exam", points="200", count=1, each="200"),
         Said("Extra credit", points="15", extra=True, also=("Garden day", "Extra credit: garden day"))],
        "A 540, B 480, C 420, D 360, F 0", basis="points", unit="points",
    ),
    Document(
        "the final replaces a test",
        """How you will be graded:
1. Weekly exercises - 20% (best 10 out of 12)
2. Three tests - 45%
3. Final examination - 35%

The final replaces your lowest test if it is higher. Unsubmitted exercises receive zero.
A 85 and up. B 70 and up. C 55 and up. D 45 and up. F below 45.
""",
        [Said("Weekly exercises", "20", count=12, best=10), Said("Tests", "45", count=3), Said("Final examination", "35")],
        "A 85, B 70, C 55, D 45, F 0", blanks="zero", unread=["The final replaces your lowest test if it is higher."],
    ),
    Document(
        "percent and points together",
        """GRADING SCALE (out of 400 points)
A   360-400   90-100%
B   320-359   80-89%
C   280-319   70-79%
D   240-279   60-69%
F   0-239     0-59%

POINTS
Journals: 8 x 15 = 120 points
Debates: 3 x 40 = 120 points
Policy brief: 100 points
Participation: 60 points
""",
        [Said("Journals", points="120", count=8, each="15"), Said("Debates", points="120", count=3, each="40"),
         Said("Policy brief", points="100"), Said("Participation", points="60")],
        TENS, basis="points",
    ),
    Document(
        "drops by several words",
        """Assignments and weights
- Ten lab write-ups, 30 percent; I throw out the worst one
- Twelve reading quizzes, 20 percent; only the ten highest count
- Two hour exams, 15 percent each
- Final, 20 percent

You may skip one lab write-up without penalty... that is the one I throw out.
Grades: A>=91, B>=81, C>=71, D>=61, F<61
""",
        [Said("Lab write-ups", "30", count=10, drop=1), Said("Reading quizzes", "20", count=12, best=10),
         Said("Hour exams", "30", count=2), Said("Final", "20")],
        "A 91, B 81, C 71, D 61, F 0",
    ),
    Document(
        "nothing about grades",
        """Welcome to Kiln Practice. We meet on Mondays in the yard. Bring boots. About 30% of the firing happens at night, and
the kiln reaches 90% of its heat by noon.
""",
        [], basis=None, unit=None,
    ),
    Document(
        "words for numbers and a dozen",
        """Your grade has four parts. A dozen homework sets make up thirty percent. Two papers count twenty percent each.
The final exam makes up thirty percent. The two lowest homework sets are forgotten.

Final grades: A for ninety percent... well: A 90-100, B 80-89, C 70-79, D 65-69, F 64 and below.
Grades of .5 and above are rounded up.
""",
        [Said("Homework sets", "30", count=12, drop=2, also=("Homework",)), Said("Papers", "40", count=2), Said("Final exam", "30")],
        "A 90, B 80, C 70, D 65, F 0", rounding=0,
    ),
    Document(
        "definition lines",
        """Component weights:

Homework: 15% (weekly; lowest 2 scores dropped)
Midterm I: 20%
Midterm II: 20%
Project: 20% (proposal 5%, report 15%)
Final: 25%

Rounding: final scores are rounded to the nearest tenth.
Grade scale: 97 A+, 93 A, 90 A-, 87 B+, 83 B, 80 B-, 77 C+, 73 C, 70 C-, 67 D+, 63 D, 60 D-, below 60 F
""",
        [Said("Homework", "15", drop=2), Said("Midterm I", "20"), Said("Midterm II", "20"), Said("Project", "20"),
         Said("Final", "25")],
        "A+ 97, A 93, A- 90, B+ 87, B 83, B- 80, C+ 77, C 73, C- 70, D+ 67, D 63, D- 60, F 0", rounding=1,
    ),
    Document(
        "an informal note",
        """hi all - grading, since you asked. sketches are 35% (seven of them, i drop your worst), the site model is 40%,
and the last 25% is the review in december. nothing handed in = zero. i don't round up, sorry.
a is 90+, b is 80+, c is 70+, everything below that we need to talk.
""",
        [Said("Sketches", "35", count=7, drop=1), Said("Site model", "40"), Said("Review", "25", also=("Review in december",))],
        "A 90, B 80, C 70", rounding=None, blanks="zero",
    ),
]
