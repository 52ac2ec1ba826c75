"""Which exact version a card is, by what it shows."""

from dataclasses import replace
from decimal import Decimal
from random import Random

from tobbix.core.products.describing import CardSize
from tobbix.core.products.identifying import Candidate, Shows, identify


def made(version: int, **said: object) -> Candidate:
    usual = Candidate(version, "sky-2025", "Skerrylight 2025", 2025, "base", "Base", "44", "", "Quern Bank")
    return replace(usual, **said)  # type: ignore[arg-type]


PLAIN = made(1)
DRIZZLE = made(2, line="drizzle", line_name="Drizzle", print_run=160, telling=("Slanting strokes.",))
SLATE = made(3, line="slate", line_name="Slate", print_run=80)
OLD = made(4, release="sky-2011", release_title="Skerrylight 2011", year=2011, number="9")
ERROR = made(5, variant="wrong name")


def test_it_asks_for_what_tells_most_apart_and_only_as_long_as_there_is_a_doubt() -> None:
    first = identify([PLAIN, DRIZZLE, SLATE], "quern 44", {})
    assert first.question is not None and first.question.about is Shows.RUN and not first.sure
    assert [(it.value, it.words, it.leaves) for it in first.question.choices] == [
        ("", "not numbered", 1), ("160", "of 160", 1), ("80", "of 80", 1),
    ]  # fmt: skip
    assert first.question.choices[1].telling == ("Slanting strokes.",)
    told = identify([PLAIN, DRIZZLE, SLATE], "quern 44", {Shows.RUN: "160"})
    assert told.sure and told.left == (DRIZZLE,) and told.question is None
    # what cannot be told leaves all, and something else is asked
    unclear = identify([PLAIN, DRIZZLE, SLATE], "quern", {Shows.RUN: "?"})
    assert unclear.question is not None and unclear.question.about is Shows.LINE
    assert identify([PLAIN, DRIZZLE, SLATE], "x", {Shows.RUN: "?", Shows.LINE: "?"}).question is None
    assert identify([PLAIN, ERROR], "44", {}).question.about is Shows.VARIANT


def test_one_that_is_left_by_its_name_alone_is_not_sure() -> None:
    by_name = identify([OLD], "quern bank", {})
    assert not by_name.sure and by_name.question is not None and by_name.question.about is Shows.NUMBER
    assert identify([OLD], "quern 9", {}).sure and identify([OLD], "quern", {Shows.NUMBER: "9"}).sure
    assert identify([OLD], "quern", {Shows.NUMBER: "8"}).left == ()
    assert not identify([OLD], "quern", {Shows.NUMBER: "?"}).sure
    many = identify([OLD], "quern 9", {}, whole=False)  # among more than were looked at nothing is sure
    assert not many.sure and many.question is None and "type more" in many.words
    # sizes tell only where all are measured
    sizes = [made(1, size=CardSize(Decimal(63), Decimal(88))), made(2, size=CardSize(Decimal("63.50"), Decimal(89)))]
    asked = identify(sizes, "44", {}).question
    assert asked is not None and [it.words for it in asked.choices] == ["63 x 88 mm", "63.5 x 89 mm"]
    assert identify([sizes[0], made(3)], "44", {}).question is None


def test_whoever_answers_truly_always_ends_at_the_card_within_as_many_questions_as_there_are_to_ask() -> None:
    random = Random(7)
    for _ in range(200):
        cards = [
            made(at, year=random.choice([1998, 2011]), line=random.choice("abc"), number=str(random.randint(1, 3)),
                 print_run=random.choice([None, 40, 80]), variant=random.choice(["", "", "error"]))
            for at in range(12)
        ]  # fmt: skip
        true, answers = random.choice(cards), dict[Shows, str]()
        values = {Shows.NUMBER: true.number, Shows.RUN: str(true.print_run or ""), Shows.YEAR: str(true.year),
                  Shows.LINE: f"{true.release}/{true.line}", Shows.VARIANT: true.variant}  # fmt: skip
        found = identify(cards, "quern", answers)
        while found.question is not None:
            assert found.question.about not in answers
            before = len(found.left)
            answers[found.question.about] = values[found.question.about]
            found = identify(cards, "quern", answers)
            assert len(found.left) < before or before == 1
        assert true in found.left and (found.sure or len(found.left) > 1)
        assert len({replace(it, version=0) for it in found.left}) == 1  # what is left is alike in all that shows
