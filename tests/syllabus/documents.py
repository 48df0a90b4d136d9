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
        [
            Said("Field notebooks", "20", count=6, drop=1),
            Said("Map quizzes", "15", count=8, drop=2),
            Said("Lab practicals", "25", count=2),
            Said("Seminar", "10"),
            Said("Survey report", "30", count=1),
        ],
        FINE,
        rounding=2,
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
        [
            Said("Problem sets", "30", count=10, drop=1),
            Said("Orchard visits", "20", count=4),
            Said("Midterm", "20"),
            Said("Final exam", "30"),
        ],
        TENS,
        blanks="zero",
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
        [
            Said("Twig quizzes", points="100", count=10, each="10"),
            Said("Midterms", points="150", count=2, each="75"),
            Said("Herbarium", points="100"),
            Said("Orchard log", points="50"),
            Said("Final exam", points="100"),
        ],
        "A 450, B 400, C 350, D 300, F 0",
        basis="points",
        unit="points",
    ),
    Document(
        "flowing prose with fractions",
        """In this studio course half of your grade comes from the four woven pieces, a quarter from the sample book, and
15 percent from critiques. The remaining ten percent is for keeping the studio in order.

I do not round. An A starts at 92, a B at 82, a C at 72, a D at 62.

Pieces that never reach the wall get a zero.
""",
        [
            Said("Woven pieces", "50", count=4),
            Said("Sample book", "25"),
            Said("Critiques", "15"),
            Said("Keeping the studio in order", "10", also=("Studio order", "Studio", "Keeping the studio")),
        ],
        "A 92, B 82, C 72, D 62",
        rounding=None,
        blanks="zero",
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
        [
            Said("Midterm exams", "40", count=2),
            Said("Final project", "25"),
            Said("Weekly labs", "20", drop=2),
            Said("Class participation", "15"),
        ],
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
        [
            Said("Test 1", "15"),
            Said("Test 2", "20"),
            Said("Test 3", "25"),
            Said("Homework", "20", count=12, best=10),
            Said("Final presentation", "20"),
        ],
        "A 90, B 80, C 70, D 60",
        rounding=0,
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
        [
            Said("Midterm 1", "15"),
            Said("Midterm 2", "15"),
            Said("Final exam", "30"),
            Said("Homework", "25"),
            Said("Lab notebook", "15"),
        ],
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
        [
            Said("Vessels", "50", count=5),
            Said("Glaze tests", "20"),
            Said("Sketchbook", "15"),
            Said("Attendance and studio care", "15"),
        ],
        TENS,
        blanks="zero",
    ),
    Document(
        "a long paragraph of weights",
        """Your course grade will be based on homework (25%), eight quizzes (20%, with the lowest one dropped), a term paper
(25%), and a comprehensive final exam (30%). Extra credit: attending a museum night adds up to 2% to your final grade.
Cutoffs are the usual ones: 90 and above is an A, 80 and above is a B, 70 and above is a C, 60 and above is a D.
""",
        [
            Said("Homework", "25"),
            Said("Quizzes", "20", count=8, drop=1),
            Said("Term paper", "25"),
            Said("Comprehensive final exam", "30", also=("Final exam",)),
            Said("Extra credit", "2", extra=True, also=("Museum night",)),
        ],
        "A 90, B 80, C 70, D 60",
    ),
    Document(
        "points course in prose",
        """There are 1000 points in this course. The five field reports are worth 100 points each. The midterm is worth
150 points and the final exam 250 points. Participation is worth 100 points. I drop nothing.

You need 900 points for an A, 800 for a B, 700 for a C and 600 for a D.
If you miss a report you will receive a zero for it.
""",
        [
            Said("Field reports", points="500", count=5, each="100"),
            Said("Midterm", points="150"),
            Said("Final exam", points="250"),
            Said("Participation", points="100"),
        ],
        "A 900, B 800, C 700, D 600",
        basis="points",
        unit="points",
        blanks="zero",
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
        "A 88, B 76, C 64, D 52, F 0",
        rounding=1,
        unread=[
            "After that each absence lowers your grade by 1%.",
            "A passing grade on the final (at least 50%) is required to pass the course.",
        ],
    ),
    Document(
        "three thirds",
        """Marks: one third of the final mark is the essay portfolio, one third is the fieldwork diary, and one third is the oral
examination. Marks are not rounded. Work not submitted by the last day earns no points, that is, a zero.
""",
        [Said("Essay portfolio", "33.33"), Said("Fieldwork diary", "33.33"), Said("Oral examination", "33.33")],
        unit=None,
        rounding=None,
        blanks="zero",
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
        [
            Said("Problem sets", points="200", count=10, each="20"),
            Said("Reading responses", points="100", count=20, each="5"),
            Said("Midterm exam", points="100", count=1, each="100"),
            Said("Final exam", points="200", count=1, each="200"),
            Said("Extra credit", points="15", extra=True, also=("Garden day", "Extra credit: garden day")),
        ],
        "A 540, B 480, C 420, D 360, F 0",
        basis="points",
        unit="points",
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
        [
            Said("Weekly exercises", "20", count=12, best=10),
            Said("Tests", "45", count=3),
            Said("Final examination", "35"),
        ],
        "A 85, B 70, C 55, D 45, F 0",
        blanks="zero",
        unread=["The final replaces your lowest test if it is higher."],
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
        [
            Said("Journals", points="120", count=8, each="15"),
            Said("Debates", points="120", count=3, each="40"),
            Said("Policy brief", points="100"),
            Said("Participation", points="60"),
        ],
        TENS,
        basis="points",
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
        [
            Said("Lab write-ups", "30", count=10, drop=1),
            Said("Reading quizzes", "20", count=12, best=10),
            Said("Hour exams", "30", count=2),
            Said("Final", "20"),
        ],
        "A 91, B 81, C 71, D 61, F 0",
    ),
    Document(
        "nothing about grades",
        """Welcome to Kiln Practice. We meet on Mondays in the yard. Bring boots. About 30% of the firing happens at night, and
the kiln reaches 90% of its heat by noon.
""",
        [],
        basis=None,
        unit=None,
    ),
    Document(
        "words for numbers and a dozen",
        """Your grade has four parts. A dozen homework sets make up thirty percent. Two papers count twenty percent each.
The final exam makes up thirty percent. The two lowest homework sets are forgotten.

Final grades: A for ninety percent... well: A 90-100, B 80-89, C 70-79, D 65-69, F 64 and below.
Grades of .5 and above are rounded up.
""",
        [
            Said("Homework sets", "30", count=12, drop=2, also=("Homework",)),
            Said("Papers", "40", count=2),
            Said("Final exam", "30"),
        ],
        "A 90, B 80, C 70, D 65, F 0",
        rounding=0,
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
        [
            Said("Homework", "15", drop=2),
            Said("Midterm I", "20"),
            Said("Midterm II", "20"),
            Said("Project", "20"),
            Said("Final", "25"),
        ],
        "A+ 97, A 93, A- 90, B+ 87, B 83, B- 80, C+ 77, C 73, C- 70, D+ 67, D 63, D- 60, F 0",
        rounding=1,
    ),
    Document(
        "an informal note",
        """hi all - grading, since you asked. sketches are 35% (seven of them, i drop your worst), the site model is 40%,
and the last 25% is the review in december. nothing handed in = zero. i don't round up, sorry.
a is 90+, b is 80+, c is 70+, everything below that we need to talk.
""",
        [
            Said("Sketches", "35", count=7, drop=1),
            Said("Site model", "40"),
            Said("Review", "25", also=("Review in december",)),
        ],
        "A 90, B 80, C 70",
        rounding=None,
        blanks="zero",
    ),
]

DOCUMENTS += [
    Document(
        "two columns of name and weight, weights as decimals",
        """GEOL 220  Rocks and Rivers

Course grade

   Field trip reports (4)         0.30
   Lab exercises (11)             0.25
   Midterm                        0.20
   Final                          0.25

Your final percentage will be rounded to the nearest integer.
Standard scale: A 90, B 80, C 70, D 60.
""",
        [
            Said("Field trip reports", "30", count=4),
            Said("Lab exercises", "25", count=11),
            Said("Midterm", "20"),
            Said("Final", "25"),
        ],
        "A 90, B 80, C 70, D 60",
        rounding=0,
    ),
    Document(
        "counts, drops and weights in three sections",
        """BIOL 340: Animal Behavior

Your grade
Your course grade is a weighted average: weekly quizzes 20%, observation reports 30%, the group project 20%, and the
final exam 30%.

Quizzes
There will be twelve quizzes, one on every Thursday. Your three lowest quiz scores are dropped, so there are no make-ups.

Observation reports
You will write five reports of two pages each. Reports are due on paper. A report that is more than a week late receives
half credit.

Final exam
The exam is cumulative. About 60% of the questions come from the second half.

Grades
93 A, 90 A-, 87 B+, 83 B, 80 B-, 77 C+, 73 C, 70 C-, 60 D.
""",
        [
            Said("Weekly quizzes", "20", count=12, drop=3, also=("Quizzes",)),
            Said("Observation reports", "30", count=5),
            Said("Group project", "20"),
            Said("Final exam", "30"),
        ],
        "A 93, A- 90, B+ 87, B 83, B- 80, C+ 77, C 73, C- 70, D 60",
    ),
    Document(
        "each of four",
        """Evaluation: There are four unit tests, each worth 15% of the final grade. Problem sets are collected every Friday and
together count 25%. The other 15% is earned with lab attendance and lab notes.
We will drop the lowest problem set. Final marks will be rounded up from .5.
If you score 88% or higher you get an A; 78% or higher, a B; 68% or higher, a C; 58% or higher, a D.
""",
        [
            Said("Unit tests", "60", count=4),
            Said("Problem sets", "25", drop=1),
            Said("Lab attendance and lab notes", "15"),
        ],
        "A 88, B 78, C 68, D 58",
        rounding=0,
    ),
    Document(
        "html-like flattened list with colons",
        """# SOC 210 Cities

# Grading

- Reading notes: 10 at 2% each
- Neighborhood maps: 2 at 15% each
- Midterm paper: 20%
- Final paper: 30%

# Policies

- Any assignment not submitted within a week will be recorded as 0.
- Three or more absences will lower your final grade by a third of a letter.

# Grade cutoffs

| A | A- | B+ | B | B- | C+ | C | C- | D | F |
| 94-100 | 90-93 | 87-89 | 84-86 | 80-83 | 77-79 | 74-76 | 70-73 | 60-69 | 0-59 |
""",
        [
            Said("Reading notes", "20", count=10),
            Said("Neighborhood maps", "30", count=2),
            Said("Midterm paper", "20"),
            Said("Final paper", "30"),
        ],
        "A 94, A- 90, B+ 87, B 84, B- 80, C+ 77, C 74, C- 70, D 60, F 0",
        blanks="zero",
        unread=["Three or more absences will lower your final grade by a third of a letter."],
    ),
    Document(
        "points with stated sum and percent scale",
        """How the points add up

12 homework assignments (15 points each)     180 points
6 quizzes (20 points each)                   120 points
2 midterm exams (150 points each)            300 points
1 final exam                                 300 points
class participation                          100 points
                                    TOTAL  1,000 points

The two lowest homework scores and the lowest quiz score are dropped before the points are added (so the total stays as it is).
To find your percentage divide your points by 10. 90% A, 80% B, 70% C, 60% D, lower F.
No rounding.
""",
        [
            Said("Homework assignments", points="180", count=12, each="15", drop=2),
            Said("Quizzes", points="120", count=6, each="20", drop=1),
            Said("Midterm exams", points="300", count=2, each="150"),
            Said("Final exam", points="300", count=1),
            Said("Class participation", points="100"),
        ],
        "A 90, B 80, C 70, D 60",
        basis="points",
        rounding=None,
    ),
    Document(
        "a letter from the instructor",
        """Dear students of ARCH 115,

many of you have asked how I come to a grade. It is simple. The drawings, fourteen of them, are two fifths of it. The
model you build in October is another fifth, and the written examination in January makes up the remaining 40 percent.
Of the fourteen drawings I look at your twelve best.

I give an A for 90 or more, a B for 80 or more, a C for 70 or more, and a D for 60 or more. An 89.6 is a B; I do not
round averages.

A drawing that is not on my table on the day counts zero.

With kind regards
""",
        [
            Said("Drawings", "40", count=14, best=12),
            Said("Model", "20", also=("Model you build in october",)),
            Said("Written examination", "40", also=("Written examination in january",)),
        ],
        "A 90, B 80, C 70, D 60",
        rounding=None,
        blanks="zero",
    ),
    Document(
        "table in words with no percent signs",
        """Marking scheme

Coursework element      Weighting (%)     Number
Practice logs           15                10
Recital reviews         15                3
Jury performance        40                1
Listening tests         30                2

The weakest practice log is discarded. Marks are reported to one decimal place; the course mark is rounded to the nearest whole number.

First-class letter bands: A 70+, B 60-69, C 50-59, D 40-49, F below 40
""",
        [
            Said("Practice logs", "15", count=10, drop=1),
            Said("Recital reviews", "15", count=3),
            Said("Jury performance", "40", count=1),
            Said("Listening tests", "30", count=2),
        ],
        "A 70, B 60, C 50, D 40, F 0",
        rounding=0,
    ),
    Document(
        "participation hidden in attendance section",
        """ECOL 150 - Ponds

Grades: pond journal (35%), species quizzes (25%), mid-course essay (15%), final report (15%), and participation (10%).

Attendance and participation
More than four absences will lower your participation grade. Arriving late three times equals an absence.

Species quizzes
Ten quizzes will be given; the lowest two don't count. Names must be spelled at least 80% right for half credit.

Pond journal
The journal is graded at the end of each month on completeness (50%), accuracy (30%), and drawings (20%).

Final grades: A = 93 to 100, A- = 90 to 92.9, B+ = 87 to 89.9, B = 83 to 86.9, B- = 80 to 82.9, C = 70 to 79.9, D = 60 to 69.9, F = less than 60
""",
        [
            Said("Pond journal", "35"),
            Said("Species quizzes", "25", count=10, drop=2),
            Said("Mid-course essay", "15"),
            Said("Final report", "15"),
            Said("Participation", "10"),
        ],
        "A 93, A- 90, B+ 87, B 83, B- 80, C 70, D 60, F 0",
    ),
    Document(
        "bonus on top in points",
        """This class has 800 points: six labs at 50 points each (300), two exams at 150 points each (300), and a design
project for 200. Up to 20 bonus points can be earned by testing another team's bridge.
Grades: 720 A, 640 B, 560 C, 480 D.
""",
        [
            Said("Labs", points="300", count=6, each="50"),
            Said("Exams", points="300", count=2, each="150"),
            Said("Design project", points="200"),
            Said("Extra credit", points="20", extra=True, also=("Bonus", "Bonus points")),
        ],
        "A 720, B 640, C 560, D 480",
        basis="points",
        unit="points",
    ),
    Document(
        "the rest without a number",
        """How your final grade is computed. Four short films are worth 15% each. The shot log is worth 10%. The rest is the final
screening. Films that are not delivered get a zero. Any total of 89.5 or more rounds up to an A-.

A: 93, A-: 90, B: 80, C: 70, D: 60.
""",
        [Said("Short films", "60", count=4), Said("Shot log", "10"), Said("Final screening", "30")],
        "A 93, A- 90, B 80, C 70, D 60",
        rounding=0,
        blanks="zero",
    ),
    Document(
        "no drops, explicit",
        """GRADE COMPONENTS

Skill tests (5)          50%     no drops
Shop journal             20%     collected three times
Final piece              30%     exhibited in May

Unexcused missing work: 0 points. Letter grades: A (92-100), B (83-91), C (74-82), D (65-73), F (0-64).
""",
        [Said("Skill tests", "50", count=5), Said("Shop journal", "20"), Said("Final piece", "30")],
        "A 92, B 83, C 74, D 65, F 0",
        blanks="zero",
    ),
    Document(
        "weights with each of unequal items",
        """Grading: Midterm 1 counts 15%, Midterm 2 counts 20% and the final counts 30%. Homework makes up the remaining 35%.
There are 13 homework assignments, of which the best 11 count.
Letter grade minimums - A: 90; B: 78; C: 66; D: 54.
I round final averages to the nearest percent.
""",
        [
            Said("Midterm 1", "15"),
            Said("Midterm 2", "20"),
            Said("Final", "30"),
            Said("Homework", "35", count=13, best=11),
        ],
        "A 90, B 78, C 66, D 54",
        rounding=0,
    ),
    Document(
        "calendar with percents and counts",
        """THEA 130 Stagecraft

Grade: Crew hours 30%, Shop skills checklist 30%, Design notebook 25%, Quizzes 15%

Calendar
Week 1   Safety; quiz 1
Week 2   Flats and platforms; 40% of crew hours signed up
Week 3   Rigging; quiz 2 (10 points)
Week 4   Light plots; 2 quizzes
Week 5   Strike

Crew hours
You need 40 hours. Fewer than 30 hours means a zero for this part.

A 90-100 / B 80-89 / C 70-79 / D 60-69 / F 59 or less
""",
        [
            Said("Crew hours", "30"),
            Said("Shop skills checklist", "30"),
            Said("Design notebook", "25"),
            Said("Quizzes", "15"),
        ],
        TENS,
    ),
    Document(
        "conditional drop",
        """Points: Twenty class exercises, 5 points each. Two practical exams, 100 points each. One portfolio, 100 points.
That makes 400 points. If you are present every week, I will drop your lowest exercise.
A: at least 360 points. B: at least 320. C: at least 280. D: at least 240.
""",
        [
            Said("Class exercises", points="100", count=20, each="5"),
            Said("Practical exams", points="200", count=2, each="100"),
            Said("Portfolio", points="100", count=1, also=()),
        ],
        "A 360, B 320, C 280, D 240",
        basis="points",
        unit="points",
        unread=["If you are present every week, I will drop your lowest exercise."],
    ),
    Document(
        "bold run-in headings",
        """**Grading.** Your grade is made up of **lab work** (40%), **two field exams** (30%) and **a herbarium** (30%).

**Labs.** We do ten labs and keep the eight best. A lab that was not done counts as zero.

**Scale.** A 90%, B 80%, C 70%, D 60%, F below.

**Rounding.** None; 79.99 is a C.
""",
        [Said("Lab work", "40", count=10, best=8), Said("Field exams", "30", count=2), Said("Herbarium", "30")],
        "A 90, B 80, C 70, D 60",
        blanks="zero",
        rounding=None,
    ),
    Document(
        "percent column split by tabs",
        "Item\tWeight\tNotes\nClose readings\t24%\t8 readings, 3% each\nMidterm essay\t26%\t\nFinal essay\t35%\t\nSeminar leading\t15%\tonce\n\n"
        "Grades are not rounded.\nA: 93 and above; A-: 90; B+: 87; B: 83; B-: 80; C+: 77; C: 73; C-: 70; D: 60\n",
        [
            Said("Close readings", "24", count=8),
            Said("Midterm essay", "26"),
            Said("Final essay", "35"),
            Said("Seminar leading", "15"),
        ],
        "A 93, A- 90, B+ 87, B 83, B- 80, C+ 77, C 73, C- 70, D 60",
        rounding=None,
    ),
]


DOCUMENTS += [
    Document(
        "a full syllabus in sections",
        """LARKMOOR COLLEGE
FORS 201 - Forest Measurements                                   Fall 2026
Instructor: Dr. Ines Halloran, Timber Hall 12. Office hours Tue 1-3 (20% of you come; I wish it were 100%)

COURSE DESCRIPTION
We measure trees. Students who take this course learn to estimate volume to within 5% and to lay out plots.
About a third of the time is spent outside.

TEXTS
One field manual, 240 pages, $40. Rain gear is required (100% waterproof).

ASSIGNMENTS
Plot reports. Five plot reports, 8 pages each, are written in teams of three. Each team member gets the same score.
Weekly checks. On Mondays there is a short check of ten questions. There are 13 checks and your ten best are counted.
Cruise project. The cruise project takes three weeks. It is graded on accuracy (40 points), maps (30 points) and writing
(30 points).
Exams. A midterm in week 7, and a final during exam week.

GRADING
Plot reports 30%, weekly checks 15%, cruise project 20%, midterm 15%, final 20%.
Work handed in late loses 10% for every day, and work never handed in is scored as zero.
Letter grades: 92-100 A; 90-91 A-; 88-89 B+; 82-87 B; 80-81 B-; 78-79 C+; 72-77 C; 70-71 C-; 60-69 D; below 60 F.
Course averages are rounded to whole numbers first.

ACADEMIC INTEGRITY
Copying a plot report earns a zero for all three.

SCHEDULE
Week 1    Pacing, compass; check 1
Week 2    Diameter (accuracy 2%), check 2
Week 3    Height; report 1 due
""",
        [
            Said("Plot reports", "30", count=5),
            Said("Weekly checks", "15", count=13, best=10),
            Said("Cruise project", "20"),
            Said("Midterm", "15"),
            Said("Final", "20"),
        ],
        "A 92, A- 90, B+ 88, B 82, B- 80, C+ 78, C 72, C- 70, D 60, F 0",
        rounding=0,
        blanks="zero",
    ),
    Document(
        "sloppy all lower case",
        """grading stuff

hw 25 %, 10 of them, lowest 1 dropped
quizzes 15%
two midterms 20% each
final 20%

scale is 90 80 70 60 like always
late hw = -10% per day
missing hw = 0
""",
        [
            Said("Hw", "25", count=10, drop=1),
            Said("Quizzes", "15"),
            Said("Midterms", "40", count=2),
            Said("Final", "20"),
        ],
        "A 90, B 80, C 70, D 60",
        blanks="zero",
    ),
    Document(
        "up to and including",
        """Your final grade is determined as follows:
a) Studio attendance and warm-ups: 10 %
b) Three choreography studies, 20 % each: 60 %
c) Written reflection: 10 %
d) Final showing: 20 %

Final percentages translate to letters like this: 95 to 100 percent is an A, 90 to 94 percent an A-, 85 to 89 percent a B+,
80 to 84 percent a B, 75 to 79 percent a B-, 65 to 74 percent a C, 55 to 64 percent a D, anything below 55 an F.
""",
        [
            Said("Studio attendance and warm-ups", "10"),
            Said("Choreography studies", "60", count=3),
            Said("Written reflection", "10"),
            Said("Final showing", "20"),
        ],
        "A 95, A- 90, B+ 85, B 80, B- 75, C 65, D 55, F 0",
    ),
    Document(
        "points each with drops after",
        """Points possible
Discussion posts: 14 posts x 5 points, the two lowest dropped = 60 points
Case write-ups: 4 x 25 points = 100 points
Mid-term test: 60 points
Final test: 80 points
Total: 300 points
Your grade is the points you have divided by the 300 possible. 270 and up A, 240 and up B, 210 and up C, 180 and up D.
""",
        [
            Said("Discussion posts", points="60", count=14, each="5", drop=2),
            Said("Case write-ups", points="100", count=4, each="25"),
            Said("Mid-term test", points="60"),
            Said("Final test", points="80"),
        ],
        "A 270, B 240, C 210, D 180",
        basis="points",
        unit="points",
    ),
    Document(
        "weight first in prose",
        """Thirty percent of your final grade comes from the lab notebook, 25% from the two practical exams, 20% from homework,
and 25% from the final. Twelve homework sets are assigned and one may be missed without penalty.
An A requires 90%, a B 80%, a C 70%, and a D 60%. Grades of 59.5 and higher are not rounded up: the cutoffs are firm.
""",
        [
            Said("Lab notebook", "30"),
            Said("Practical exams", "25", count=2),
            Said("Homework", "20", count=12, drop=1),
            Said("Final", "25"),
        ],
        "A 90, B 80, C 70, D 60",
        rounding=None,
    ),
    Document(
        "extra credit as an item list",
        """GRADE WEIGHTS
Exam I 20%
Exam II 20%
Final Exam 25%
Field Guide 20%
Quizzes (weekly) 15%
EXTRA CREDIT: 1% for each of two evening walks, at most 2% added to your course grade

SCALE A 90.0 B 80.0 C 70.0 D 60.0 F <60.0
""",
        [
            Said("Exam I", "20"),
            Said("Exam II", "20"),
            Said("Final Exam", "25"),
            Said("Field Guide", "20"),
            Said("Quizzes", "15"),
            Said("Extra credit", "2", extra=True),
        ],
        TENS,
    ),
    Document(
        "percent in words only",
        """Evaluation. The course is evaluated through reading journals (twenty percent), two class presentations (thirty
percent), a take-home midterm (twenty percent) and a research paper (thirty percent). Journals are collected six times;
the lowest collection is not counted.

The grading scale is the one in the handbook.
""",
        [
            Said("Reading journals", "20", drop=1),
            Said("Class presentations", "30", count=2),
            Said("Take-home midterm", "20"),
            Said("Research paper", "30"),
        ],
        unit=None,
    ),
    Document(
        "curve, pass marks and confidence",
        """How grades work
Problem sessions 20 % / Written homework 30 % / Midterm 20 % / Final 30 %.
You must get at least 40% on the final to pass the course. If the class average on an exam is below 65%, the exam may be
curved. The department's cutoffs are 87 (A), 75 (B), 62 (C), 50 (D).
A 95% confidence interval will be on every exam. Round your answers to two decimals.
""",
        [Said("Problem sessions", "20"), Said("Written homework", "30"), Said("Midterm", "20"), Said("Final", "30")],
        "A 87, B 75, C 62, D 50",
        unread=["You must get at least 40% on the final to pass the course."],
    ),
    Document(
        "ranges from the bottom up",
        """Components of the grade: lab 40%, theory quizzes 20%, oral exam 40%.

F  0-49.9
D  50-59.9
C  60-74.9
B  75-84.9
A  85-100

There will be 6 theory quizzes. Missed quizzes count as zeros; there are no make-ups. Final scores will be rounded to one decimal.
""",
        [Said("Lab", "40"), Said("Theory quizzes", "20", count=6), Said("Oral exam", "40")],
        "F 0, D 50, C 60, B 75, A 85",
        rounding=1,
        blanks="zero",
    ),
    Document(
        "table with weight and points",
        """| Work | Points | Weight |
|---|---|---|
| Glazing log | 50 | 10% |
| Wheel projects (6) | 25 each | 45% |
| Wood firing | 100 | 25% |
| Written exam | 80 | 20% |

Letter grade | Minimum
A | 93%
B | 83%
C | 73%
D | 63%
""",
        [
            Said("Glazing log", "10", points="50"),
            Said("Wheel projects", "45", points="150", count=6, each="25"),
            Said("Wood firing", "25", points="100"),
            Said("Written exam", "20", points="80"),
        ],
        "A 93, B 83, C 73, D 63",
    ),
    Document(
        "keep-best with the total said elsewhere",
        """Your mark
Half of your mark is the best five of the six essays; the other half is the final examination.
Essays not received by noon on Friday are marked zero.
70 and over is an A, 60 and over a B, 50 and over a C, 40 and over a D, and under 40 an F.
""",
        [Said("Essays", "50", count=6, best=5), Said("Final examination", "50")],
        "A 70, B 60, C 50, D 40, F 0",
        blanks="zero",
    ),
    Document(
        "no letters, no weights, only drops",
        """We will have about ten quizzes. I drop the lowest two. Everything else we will settle together.
""",
        [],
        basis=None,
        unit=None,
    ),
]


DOCUMENTS += [
    Document(
        "a handbook page in long sentences",
        """PHIL 160, Arguments in Public. Quillhaven College, spring.

How I grade

I have been teaching this course for eleven years, and in that time I have tried everything. What has lasted is this. You
write three position papers, and they count a fifth of your grade each. Your four short responses, taken together, count
another fifth. What you do in the room, which means asking, answering and above all listening, is good for ten percent,
and the closing debate for ten.

Of the short responses I throw out the weakest. A paper I never see is a zero. I use the college scale without rounding
(A from 93, A- from 90, B+ from 87, B from 83, B- from 80, C+ from 77, C from 73, C- from 70, D from 60).

If your third paper is better than your first, I will count it twice and leave out the first.
""",
        [
            Said("Position papers", "60", count=3),
            Said("Short responses", "20", count=4, drop=1),
            Said("What you do in the room", "10", also=("Participation", "Room")),
            Said("Closing debate", "10"),
        ],
        "A 93, A- 90, B+ 87, B 83, B- 80, C+ 77, C 73, C- 70, D 60",
        rounding=None,
        blanks="zero",
        unread=["If your third paper is better than your first, I will count it twice and leave out the first."],
    ),
    Document(
        "numbered components with notes below",
        """Course Requirements and Grading

1. Field journal (25%)
   Twelve entries over the term. I drop your two lowest.

2. Identification quizzes (25%)
   Five quizzes, equally weighted.

3. Midterm examination (20%)
   In week 8. Half of it is on slides.

4. Final project (30%)
   Proposal due in week 6; presentation in week 14.

Letter grades: A (100-90), B (89-80), C (79-70), D (69-60), F (59-0). Final grades are rounded to the nearest whole
percentage point.
""",
        [
            Said("Field journal", "25", count=12, drop=2),
            Said("Identification quizzes", "25", count=5),
            Said("Midterm examination", "20"),
            Said("Final project", "30"),
        ],
        TENS,
        rounding=0,
    ),
    Document(
        "points with a table of parts inside an exam",
        """GRADING (700 points)

Weekly problem sets    10 sets, 20 pts each    200 pts
Two midterm exams      100 pts each            200 pts
Final exam                                     200 pts
    multiple choice     80 pts
    short answers       70 pts
    long problem        50 pts
Lab notebook                                   100 pts

Grade cutoffs: A 630, B 560, C 490, D 420.
Work you do not submit is worth 0 points.
""",
        [
            Said("Weekly problem sets", points="200", count=10, each="20"),
            Said("Midterm exams", points="200", count=2, each="100"),
            Said("Final exam", points="200"),
            Said("Lab notebook", points="100"),
        ],
        "A 630, B 560, C 490, D 420",
        basis="points",
        unit="points",
        blanks="zero",
    ),
    Document(
        "quiz drop described after a detour",
        """Assessment: tests (3 x 20%), workshop sheets 25%, attendance 15%.

Workshops. Sheets are due on Fridays at noon. They are checked by the assistants, who write more than you would like.
Fourteen sheets are planned. Since everyone has a bad week, the two weakest sheets are left out of the average.

Results: 85%+ A, 70%+ B, 55%+ C, 45%+ D, otherwise F. Decimals are not rounded.
""",
        [Said("Tests", "60", count=3), Said("Workshop sheets", "25", count=14, drop=2), Said("Attendance", "15")],
        "A 85, B 70, C 55, D 45",
        rounding=None,
    ),
    Document(
        "letters with plus signs spelled out",
        """Grades come from a portfolio (40%), eight sketch assignments (40%; best seven), and participation (20%).
A+ 97-100; A 93-96; A minus 90-92; B plus 87-89; B 83-86; B minus 80-82; C 70-79; D 60-69; F below 60.
Missing sketches get 0%.
""",
        [Said("Portfolio", "40"), Said("Sketch assignments", "40", count=8, best=7), Said("Participation", "20")],
        "A+ 97, A 93, A- 90, B+ 87, B 83, B- 80, C 70, D 60, F 0",
        blanks="zero",
    ),
    Document(
        "attendance limit and project discount",
        """HOW THE GRADE IS CALCULATED
The final grade is calculated from the following: seminar reports 45%, poster 15%, oral final 40%.
Students get a 20% discount on poster printing. Attendance below 75% means you cannot take the oral final.
One seminar report, the lowest, is dropped out of the seven.
Grades: 1.0 is best... our registrar uses A 90-100, B 75-89, C 60-74, D 50-59, F 0-49.
""",
        [Said("Seminar reports", "45", count=7, drop=1), Said("Poster", "15"), Said("Oral final", "40")],
        "A 90, B 75, C 60, D 50, F 0",
    ),
    Document(
        "a grid with the letter beside both",
        """Grading scheme

Task                         Max. points
Weaving samples (8 x 10)          80
Color study                       40
Pattern draft                     30
Final textile                    150
Sum                              300

Points      Percent     Grade
270-300     90-100      A
240-269     80-89       B
210-239     70-79       C
180-209     60-69       D
0-179       0-59        F
""",
        [
            Said("Weaving samples", points="80", count=8, each="10"),
            Said("Color study", points="40"),
            Said("Pattern draft", points="30"),
            Said("Final textile", points="150"),
        ],
        TENS,
        basis="points",
    ),
    Document(
        "drop and count in one clause",
        """The lab is 30% of the course grade, and your grade in it is the average of your best nine out of eleven lab scores. The
three exams make up 20%, 20% and 30%.

A lab you skip counts as 0. We use a straight 90/80/70/60 scale, and we never round.
""",
        [Said("Lab", "30", count=11, best=9), Said("Exams", "70", count=3)],
        "A 90, B 80, C 70, D 60",
        rounding=None,
        blanks="zero",
    ),
]


DOCUMENTS += [
    Document(
        "free skips and free absences",
        """# COMM 118 Small Groups

Grading: daily notes 20%, three team briefs 45%, final reflection 20%, participation 15%.

**Daily notes.** There are 24 class days with notes. You have three free skips of daily notes; use them wisely. You also have
two free absences, which do not touch your notes.

**Participation.** Everyone starts at 100% and loses 5% for each absence after the free ones.

A = 93-100, A- = 90-92, B+ = 87-89, B = 83-86, B- = 80-82, C = 70-79, D = 60-69, F = 0-59. Fractions are rounded to the nearest whole number.
""",
        [
            Said("Daily notes", "20", drop=3),
            Said("Team briefs", "45", count=3),
            Said("Final reflection", "20"),
            Said("Participation", "15"),
        ],
        "A 93, A- 90, B+ 87, B 83, B- 80, C 70, D 60, F 0",
        rounding=0,
    ),
    Document(
        "highest and lowest left out",
        """Judging sheets: ten judging sheets are 50% of the grade; as at a real show, the highest and the lowest sheet do not count.
The breed report is 30% and the written exam 20%.
Bonus questions on the exam can lift it to at most 110%.
Scale: 90, 80, 70, 60.
""",
        [Said("Judging sheets", "50", count=10, drop=1), Said("Breed report", "30"), Said("Written exam", "20")],
        "A 90, B 80, C 70, D 60",
        unread=["as at a real show, the highest and the lowest sheet do not count."],
    ),
    Document(
        "short papers with the at sign",
        """COURSE POINTS (total 340)
Two short papers (2 @ 50 pts)
Response cards (12 @ 5 pts)
Oral history interview - 80 pts
Final portfolio - 100 pts

323+ A, 306+ A-, 289+ B+, 272+ B, 255+ B-, 238+ C, 204+ D
Unexcused missing cards earn zero points.
""",
        [
            Said("Short papers", points="100", count=2, each="50"),
            Said("Response cards", points="60", count=12, each="5"),
            Said("Oral history interview", points="80"),
            Said("Final portfolio", points="100"),
        ],
        "A 323, A- 306, B+ 289, B 272, B- 255, C 238, D 204",
        basis="points",
        unit="points",
        blanks="zero",
    ),
    Document(
        "weights in brackets after long names",
        """Your grade will be computed from these pieces:

- Weekly reading questions, handed in on Mondays (15 percent). Twelve sets; your two lowest are dropped.
- Map projects, of which there are four (30 percent)
- A mid-semester examination on October 14 (25 percent)
- A cumulative final examination (30 percent)

I follow the college's scale: 93 and up is an A, 90 to 92 an A-, 87 to 89 a B+, 83 to 86 a B, 80 to 82 a B-, 77 to 79 a
C+, 73 to 76 a C, 70 to 72 a C-, 60 to 69 a D, and anything lower an F.
""",
        [
            Said("Weekly reading questions", "15", count=12, drop=2),
            Said("Map projects", "30", count=4),
            Said("Mid-semester examination", "25"),
            Said("Cumulative final examination", "30", also=("Final examination",)),
        ],
        "A 93, A- 90, B+ 87, B 83, B- 80, C+ 77, C 73, C- 70, D 60",
    ),
    Document(
        "category names with counts first",
        """GRADE
5 Quizzes          25%
3 Lab reports      30%
1 Design project   20%
1 Final exam       25%

MISSED WORK: There are no make-up quizzes. The lowest quiz is dropped instead. Any other missed assignment is a 0.
ROUNDING: 89.5 becomes 90.
A 90-100 B 80-89 C 70-79 D 60-69 F below 60
""",
        [
            Said("Quizzes", "25", count=5, drop=1),
            Said("Lab reports", "30", count=3),
            Said("Design project", "20", count=1),
            Said("Final exam", "25", count=1),
        ],
        TENS,
        rounding=0,
        blanks="zero",
    ),
    Document(
        "html table flattened with drop notes",
        """# Requirements

| What | How much | How often |
| Field sketches | 40 % | every week; 13 in all, the three weakest are not counted |
| Peer reviews | 10 % | five |
| Exhibit label | 20 % | once, in November |
| Museum report | 30 % | once |

# Fine print

Work is never accepted by e-mail. What does not arrive on paper by the last class is a zero.
The registrar rounds nothing, and neither do I.

| Letter | A | B | C | D | F |
| From | 91 | 81 | 71 | 61 | 0 |
""",
        [
            Said("Field sketches", "40", count=13, drop=3),
            Said("Peer reviews", "10", count=5),
            Said("Exhibit label", "20"),
            Said("Museum report", "30"),
        ],
        "A 91, B 81, C 71, D 61, F 0",
        rounding=None,
        blanks="zero",
    ),
    Document(
        "a two-level list",
        """ASSESSMENT BREAKDOWN

Coursework (50%)
  - Problem sheets: 20%
  - Group presentation: 10%
  - Lab portfolio: 20%
Examinations (50%)
  - Mid-term examination: 20%
  - Final examination: 30%

There are eight problem sheets; the best six are counted.
Scale: A 80-100, B 70-79, C 60-69, D 50-59, F 0-49.
""",
        [
            Said("Problem sheets", "20", count=8, best=6),
            Said("Group presentation", "10"),
            Said("Lab portfolio", "20"),
            Said("Mid-term examination", "20"),
            Said("Final examination", "30"),
        ],
        "A 80, B 70, C 60, D 50, F 0",
    ),
    Document(
        "grading by points said twice",
        """In this course you collect points. Homework: 10 assignments, 10 points each. Projects: 2, 100 points each. Exams: two
midterms of 100 points and a final of 150 points. The sum is 650 points.

Cutoffs: 585 A, 520 B, 455 C, 390 D.
""",
        [
            Said("Homework", points="100", count=10, each="10"),
            Said("Projects", points="200", count=2, each="100"),
            Said("Midterms", points="200", count=2, each="100"),
            Said("Final", points="150"),
        ],
        "A 585, B 520, C 455, D 390",
        basis="points",
        unit="points",
    ),
    Document(
        "the whole thing as one sentence per line",
        """Final grade = 0.4 x (average of studio projects) + 0.3 x (sketchbook) + 0.3 x (final review)
Studio projects: four
Not submitted means zero
No rounding
A >= 94, A- >= 90, B+ >= 87, B >= 83, B- >= 80, C >= 70, D >= 60
""",
        [Said("Studio projects", "40", count=4), Said("Sketchbook", "30"), Said("Final review", "30")],
        "A 94, A- 90, B+ 87, B 83, B- 80, C 70, D 60",
        rounding=None,
        blanks="zero",
    ),
    Document(
        "extra credit as points on the average",
        """Weights: lab work 35%, quizzes 15%, midterm 20%, final 30%. Up to three percentage points can be added to your final
average as extra credit for volunteering at the seed bank. There are ten quizzes and nine count. Lab work that is not turned
in by the end of the lab receives no credit, i.e. 0.
A 90 B 80 C 70 D 60 E below 60
""",
        [
            Said("Lab work", "35"),
            Said("Quizzes", "15", count=10, best=9),
            Said("Midterm", "20"),
            Said("Final", "30"),
            Said("Extra credit", "3", extra=True),
        ],
        "A 90, B 80, C 70, D 60, E 0",
        blanks="zero",
    ),
]


DOCUMENTS += [
    Document(
        "a studio course in paragraphs with headings",
        """ARTS 131 Printmaking
Hazelmere College of Art, autumn

THE COURSE
Relief, intaglio and a little lithography. We spend roughly 70 percent of our time at the press.

WORK AND ITS WORTH
You will pull five finished editions. Together they are worth half of your grade. A process book, in which you keep proofs
and notes, is worth another 20%. Two critiques, one at midterm and one at the end, are worth ten percent apiece, and the
last tenth of the grade I give for the care you take of the shop.

If an edition does not work out, you may redo it once; the better version stands.

DEADLINES
An edition that is one week late is worth at most 80% of what it would have been. After two weeks I no longer take it and
it counts as nothing, that is, zero.

LETTERS
Hazelmere uses A for 94 and above, A- for 90 to 93, B+ for 87 to 89, B for 84 to 86, B- for 80 to 83, C for 70 to 79, D for
60 to 69. I round to the nearest whole number.
""",
        [
            Said("Finished editions", "50", count=5, also=("Editions",)),
            Said("Process book", "20"),
            Said("Critiques", "20", count=2),
            Said("Care you take of the shop", "10", also=("Care", "Shop care", "Care of the shop", "Shop")),
        ],
        "A 94, A- 90, B+ 87, B 84, B- 80, C 70, D 60",
        rounding=0,
        blanks="zero",
    ),
    Document(
        "grade table with ranges of points and the percent words",
        """How is my grade figured?

There are 600 points to be had:
* 10 weekly logs (10 pts each), of which I drop the lowest one: 90 pts
* 3 site visits with reports (50 pts each): 150 pts
* Midterm: 120 pts
* Term project: 140 pts
* Final: 100 pts
Add your points, divide by 6, and you have your percentage.

What percentage do I need?
A 90 to 100
B 80 to less than 90
C 70 to less than 80
D 60 to less than 70
F less than 60
Percentages are not rounded: 89.99 is a B.
""",
        [
            Said("Weekly logs", points="90", count=10, each="10", drop=1),
            Said("Site visits with reports", points="150", count=3, each="50", also=("Site visits",)),
            Said("Midterm", points="120"),
            Said("Term project", points="140"),
            Said("Final", points="100"),
        ],
        TENS,
        basis="points",
        rounding=None,
    ),
    Document(
        "weights as a paragraph of semicolons",
        """Grading. Laboratory (weekly write-ups): 25%; homework (eleven sets, of which the ten best count): 15%; two in-class
exams: 15% each; final exam: 30%.

Laboratory attendance is required; missing more than two labs means failing the course.

Grading scale. A: 90 and up; B: 78 up to 90; C: 66 up to 78; D: 54 up to 66; F: under 54.
""",
        [
            Said("Laboratory", "25"),
            Said("Homework", "15", count=11, best=10),
            Said("In-class exams", "30", count=2),
            Said("Final exam", "30"),
        ],
        "A 90, B 78, C 66, D 54, F 0",
    ),
    Document(
        "percent per item with number in the name",
        """Assessment

Reflection papers (four at 5% each)             20%
Annotated bibliography                          10%
Draft and peer review                           10%
Research paper                                  30%
Presentation                                    10%
Reading quizzes (best 8 of 10, 2.5% each)       20%

Missed quizzes cannot be made up and receive 0.
The Research paper is marked on argument (40%), sources (30%) and style (30%).

Letter grades will be assigned as follows: A (93-100%), A- (90-92%), B+ (87-89%), B (83-86%), B- (80-82%), C+ (77-79%), C (73-76%), C- (70-72%), D+ (67-69%), D (60-66%), F (below 60%).
""",
        [
            Said("Reflection papers", "20", count=4),
            Said("Annotated bibliography", "10"),
            Said("Draft and peer review", "10"),
            Said("Research paper", "30"),
            Said("Presentation", "10"),
            Said("Reading quizzes", "20", count=10, best=8),
        ],
        "A 93, A- 90, B+ 87, B 83, B- 80, C+ 77, C 73, C- 70, D+ 67, D 60, F 0",
        blanks="zero",
    ),
    Document(
        "talking about the grade in an FAQ",
        """Q: What counts?
A: Your six case memos (30 percent all together), your role in the mock hearing (25 percent), two quizzes (10 percent each)
and the take-home final (25 percent).

Q: Is anything dropped?
A: Yes, the weakest memo.

Q: What if I miss something?
A: Then it is a zero, unless the dean of students writes to me.

Q: Do you round?
A: No.

Q: What is an A?
A: 93 or better. 90 is an A-, 87 a B+, 83 a B, 80 a B-, 77 a C+, 73 a C, 70 a C-, 60 a D.
""",
        [
            Said("Case memos", "30", count=6, drop=1),
            Said("Role in the mock hearing", "25", also=("Mock hearing",)),
            Said("Quizzes", "20", count=2),
            Said("Take-home final", "25"),
        ],
        "A 93, A- 90, B+ 87, B 83, B- 80, C+ 77, C 73, C- 70, D 60",
        rounding=None,
        blanks="zero",
    ),
    Document(
        "department template",
        """SECTION 4. EVALUATION OF STUDENT PERFORMANCE

4.1 Components
Component                   Quantity    Percentage of Final Grade
Tutorial worksheets         11          22%
Term tests                  2           36%
Group poster                1           12%
Final examination           1           30%
                                        ----
                                        100%

4.2 Notes
The worksheet with the lowest mark will be disregarded. Students who miss a term test for a documented reason have its weight moved to the final examination.

4.3 Conversion
90-100 A+; 85-89 A; 80-84 A-; 77-79 B+; 73-76 B; 70-72 B-; 67-69 C+; 63-66 C; 60-62 C-; 50-59 D; 0-49 F
Marks are rounded to the nearest integer (x.5 is rounded up).
""",
        [
            Said("Tutorial worksheets", "22", count=11, drop=1),
            Said("Term tests", "36", count=2),
            Said("Group poster", "12", count=1),
            Said("Final examination", "30", count=1),
        ],
        "A+ 90, A 85, A- 80, B+ 77, B 73, B- 70, C+ 67, C 63, C- 60, D 50, F 0",
        rounding=0,
        unread=[
            "Students who miss a term test for a documented reason have its weight moved to the final examination."
        ],
    ),
    Document(
        "short note with a slash list",
        """Grade: quizzes 10 / lab 40 / project 20 / final 30 (percent). Lowest quiz dropped (there are 6). No letter for less than 55.
A 85, B 75, C 65, D 55.
""",
        [Said("Quizzes", "10", count=6, drop=1), Said("Lab", "40"), Said("Project", "20"), Said("Final", "30")],
        "A 85, B 75, C 65, D 55",
    ),
]


DOCUMENTS += [
    Document(
        "markdown with bold weights and nested notes",
        """# GEOG 250: Reading Landscapes

## Evaluation

1. **Field journal** (30%)
   - 10 entries, 2 pages each
   - your lowest entry does not count
2. **Photo essays** (2 x 15%)
3. **Quizzes** (15%)
   - about every other week; 6 in total
4. **Final walk and talk** (25%)

Late journals lose one third of a letter grade per day. Anything missing at the end of term is a zero.

## Scale

A: 94-100 | A-: 90-93 | B+: 87-89 | B: 84-86 | B-: 80-83 | C+: 77-79 | C: 74-76 | C-: 70-73 | D: 65-69 | F: 0-64

Your final average is rounded to the nearest tenth.
""",
        [
            Said("Field journal", "30", count=10, drop=1),
            Said("Photo essays", "30", count=2),
            Said("Quizzes", "15", count=6),
            Said("Final walk and talk", "25"),
        ],
        "A 94, A- 90, B+ 87, B 84, B- 80, C+ 77, C 74, C- 70, D 65, F 0",
        rounding=1,
        blanks="zero",
    ),
    Document(
        "table with drop column and points per item",
        """Assignments

| Assignment | Count | Dropped | Points each | Total |
| --- | --- | --- | --- | --- |
| Clicker sets | 26 | 4 | 2 | 44 |
| Homework | 12 | 2 | 10 | 100 |
| Hour tests | 3 | 0 | 50 | 150 |
| Final exam | 1 | 0 | 106 | 106 |
| Sum | | | | 400 |

To get an A you need 360 points, for a B 320, for a C 280, for a D 240. Your points are what you earn out of 400.
""",
        [
            Said("Clicker sets", points="44", count=26, each="2", drop=4),
            Said("Homework", points="100", count=12, each="10", drop=2),
            Said("Hour tests", points="150", count=3, each="50"),
            Said("Final exam", points="106", count=1, each="106"),
        ],
        "A 360, B 320, C 280, D 240",
        basis="points",
        unit="points",
    ),
    Document(
        "a workshop in second person",
        """How you earn your grade. You earn 35 percent of it with the five repair jobs, 25 percent with the bench test in week 9,
30 percent with the final machine, and the remaining 10 percent by keeping your bench in order.

Of the five repair jobs the worst is dropped. If you finish a sixth job, you may hand that in instead of any other.

I use 92/84/76/68 as the lines for A, B, C and D. I round up from half a point.
""",
        [
            Said("Repair jobs", "35", count=5, drop=1),
            Said("Bench test", "25"),
            Said("Final machine", "30"),
            Said("Keeping your bench in order", "10", also=("Keeping your bench", "Bench order")),
        ],
        "A 92, B 84, C 76, D 68",
        rounding=0,
        unread=["If you finish a sixth job, you may hand that in instead of any other."],
    ),
    Document(
        "percentages before colons",
        """YOUR GRADE
20%: Attendance and sketch warm-ups
45%: Three paintings (15% each)
15%: Artist talk
20%: Final portfolio

GRADE SCALE
A 4.0 93%
A- 3.7 90%
B+ 3.3 87%
B 3.0 83%
B- 2.7 80%
C 2.0 73%
D 1.0 60%
""",
        [
            Said("Attendance and sketch warm-ups", "20"),
            Said("Paintings", "45", count=3),
            Said("Artist talk", "15"),
            Said("Final portfolio", "20"),
        ],
        "A 93, A- 90, B+ 87, B 83, B- 80, C 73, D 60",
    ),
    Document(
        "grades by a chain of sentences",
        """Grades in this seminar rest on four things. First, there are response papers: eight of them, one page long, due by noon on the
day of discussion. They make up 24 percent. Second, each of you leads one discussion, for 16 percent. Third, the research
proposal is worth 20 percent. Fourth and last, the paper itself is worth 40 percent.

The two response papers with the lowest marks will not be counted. No paper, no points: an unsubmitted paper is a zero.

The scale is 93 (A), 90 (A-), 87 (B+), 83 (B), 80 (B-), 77 (C+), 73 (C), 70 (C-), 60 (D).
""",
        [
            Said("Response papers", "24", count=8, drop=2),
            Said("Discussion", "16", also=("Leads one discussion", "Discussion leading", "One discussion"), count=None),
            Said("Research proposal", "20"),
            Said("Paper", "40", also=("Paper itself", "Research paper")),
        ],
        "A 93, A- 90, B+ 87, B 83, B- 80, C+ 77, C 73, C- 70, D 60",
        blanks="zero",
    ),
]
