"""Before and after grading: what a card may get, gains of many, the record against published decompositions, a second
opinion, plans of submissions, lines placed by hand, grades as they are pasted (C-25 to C-30, C-41)."""

from dataclasses import replace
from datetime import date
from decimal import Decimal as D

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import optimize

from tobbix.core.base.errors import InputError
from tobbix.core.grading.calibrating import Outcome, calibrate, gem_rate, gem_rates, grader_spread
from tobbix.core.grading.centering import (
    NotMeasured,
    SizeSays,
    center_by_lines,
    flatten,
    judge_size,
    measure_centering,
)
from tobbix.core.grading.expecting import KnownOfCard, expect
from tobbix.core.grading.gain import Cracking, GradingQuestion, TierLimit, work_out_gain
from tobbix.core.grading.graders import USUAL_LIMITS, CenteringLimit, GraderProfile, Tier, Whole, check_profile
from tobbix.core.grading.known_faults import count_faults, may_have, state_faults
from tobbix.core.grading.many import draw_curve, work_out_gains
from tobbix.core.grading.pregrading import (
    Looked,
    SideMeasured,
    allows,
    blend,
    dirichlet,
    grades_of_parts,
    pre_grade,
    with_gem,
)
from tobbix.core.grading.reading_grades import read_grades
from tobbix.core.grading.second_opinion import Again, Opinion, weigh_again
from tobbix.core.grading.simulated_scans import simulate_scan
from tobbix.core.grading.submissions import (
    PlannedCard,
    PostClass,
    alone_pays_from,
    explain_duty,
    honest_value,
    insurance_gap,
    membership_pays_from,
    plan_submission,
    state_alone,
    state_membership,
)
from tobbix.core.grading.training import BorderTrial, judge_eye, state_eye
from tobbix.core.pricing.fees import Bracket, SellingWay
from tobbix.core.sorting.flaws import Flaw, FlawKind, Side, Size

WHOLE = tuple(str(grade) for grade in range(10, 0, -1))
HALVES = tuple(f"{half / 2:g}" for half in range(20, 1, -1))
PLUMB = GraderProfile("Plumbline", "USD", WHOLE, (Tier("s", "Standard", D("18.40"), value_limit=D(500), days=40),
                      Tier("m", "Members", D("10.40"), 2, members_only=True)), membership=D(90), limits=USUAL_LIMITS,
                      duty_share=D("0.12"))  # fmt: skip
FOUR = GraderProfile("Fourfold", "GBP", HALVES, (Tier("s", "Standard", D(22)),), ("a", "b", "c", "d"),
                     limits=USUAL_LIMITS, whole=Whole.MEAN, cap=D(2))  # fmt: skip
WAY = SellingWay("w", "w", commission=(Bracket(None, D("0.13")),), fixed_fee=D("1.20"))
EVEN = SideMeasured(51, 50, (0.4, 0.4))


def corner(side: Side = Side.FRONT, size: Size = Size.SMALL) -> Flaw:
    return Flaw(FlawKind.WEAR, side, size, 0.01, 0.01)


def test_a_profile_says_what_is_wrong_with_it() -> None:
    check_profile(PLUMB)
    wrong = GraderProfile(" ", "us", ("9", "10"), (Tier("a", "A", D(-1)), Tier("a", "B", D(1))),
                          limits=(CenteringLimit("11", D(40), D(50)), CenteringLimit("9", D(60), D(90))),
                          back_weight=D(2), columns=("line", "colour"))  # fmt: skip
    with pytest.raises(InputError) as refused:
        check_profile(wrong)
    fields = {fault.field for fault in refused.value.faults}
    assert fields == {"name", "currency", "grades", "tiers[0].fee", "tiers[1].name", "limits[0].grade",
                      "limits[0].front", "back_weight", "columns"}  # fmt: skip


def test_what_a_card_may_get_follows_its_borders_flaws_and_the_graders_rule() -> None:
    clean = pre_grade(Looked(EVEN, EVEN), PLUMB)
    assert sum(clean.chances.values()) == pytest.approx(1) and next(iter(clean.chances)) == "10"
    # 55/45 allows a 10 and 60/40 a 9 on the front, 75/25 a 10 on the back (common practice, no source)
    for share, best in ((54, "10"), (56, "9"), (61, "8"), (95, "4")):
        side = SideMeasured(share, 50, (0.4, 0.4))
        assert allows(side, PLUMB) == best
        parts = pre_grade(Looked(side, None), PLUMB).parts["centering"]
        assert max(parts, key=lambda grade: parts[grade]) == best
    assert allows(SideMeasured(70, 50, (0.4, 0.4)), PLUMB, back=True) == "10" and allows(None, PLUMB) is None
    unsure = pre_grade(Looked(SideMeasured(54, 50, (6, 6)), EVEN), PLUMB)
    assert unsure.gem < pre_grade(Looked(SideMeasured(54, 50, (0.2, 0.2)), EVEN), PLUMB).gem
    marked = ((), (corner(Side.BACK),), (corner(),), (corner(), corner()), (corner(size=Size.LARGE),))
    worse = [pre_grade(Looked(EVEN, EVEN, flaws), PLUMB).expected for flaws in marked]
    assert worse == sorted(worse, reverse=True) and len(set(worse)) == 5
    looked = Looked(EVEN, EVEN, (corner(),))
    assert pre_grade(looked, PLUMB, strict=False).expected > pre_grade(looked, PLUMB).expected
    # 9.5, 9.5, 9 and 8 may give 9: their mean, capped two half grades above the lowest
    places = np.array([[1], [1], [2], [4]])
    assert FOUR.grades[grades_of_parts(np.array(FOUR.numbers), places, 2)[0]] == "9"
    assert FOUR.grades[grades_of_parts(np.array(FOUR.numbers), np.array([[0], [0], [0], [6]]), 2)[0]] == "8"


def test_what_is_usual_on_its_mates_moves_the_chances_of_a_side_that_nobody_looked_at() -> None:
    chips = Flaw(FlawKind.WEAR, Side.BACK, Size.MEDIUM, 0.0, 0.5)
    mates = {1: [chips], 2: [chips, replace(chips, size=Size.SMALL)], 3: [replace(chips, size=Size.LARGE)]}
    (fault,) = count_faults(mates, [(card, side) for card in range(1, 7) for side in (Side.FRONT, Side.BACK)])
    assert (fault.flaw.size, fault.marked, fault.looked, fault.share) == (Size.MEDIUM, 3, 6, 0.3)
    assert may_have([fault], [Side.BACK]) == () and may_have([fault], [Side.FRONT]) == (fault,)
    clean, without = Looked(EVEN, None), pre_grade(Looked(EVEN, None), PLUMB).chances
    found = pre_grade(replace(clean, unseen=(fault,)), PLUMB).chances
    chipped = pre_grade(replace(clean, flaws=(fault.flaw,)), PLUMB).chances
    assert found == pytest.approx({grade: 0.3 * chipped[grade] + 0.7 * without[grade] for grade in without})
    known = KnownOfCard(replace(clean, unseen=(fault,)), False, None, {"10": 30, "9": 60})
    assert expect(known, PLUMB, 10, None) == dirichlet({"10": 30, "9": 60}, PLUMB.grades, 10)  # it is in there already
    assert state_faults([fault], [fault]) == (
        "Marked on cards of this release: wear at an edge of the back, on 3 of 6 looked at. Nobody looked at the back "
        "of this one: its chances count that in."
    )


def test_the_rule_of_the_mean_is_that_of_every_choice_of_parts() -> None:
    looked = Looked(SideMeasured(55, 52, (1, 1)), None, (corner(), corner(Side.BACK)))
    found = pre_grade(looked, FOUR)
    masses = [list(part.values()) for part in found.parts.values()]
    numbers, wanted = FOUR.numbers, dict.fromkeys(FOUR.grades, 0.0)
    near = [[at for at, chance in enumerate(mass) if chance > 1e-4] for mass in masses]
    for a in near[0]:
        for b in near[1]:
            for c in near[2]:
                for d in near[3]:
                    middle = sum(numbers[at] for at in (a, b, c, d)) / 4
                    best = min(range(19), key=lambda at: (abs(numbers[at] - middle), numbers[at]))
                    whole = FOUR.grades[max(best, max(a, b, c, d) - 2)]
                    wanted[whole] += masses[0][a] * masses[1][b] * masses[2][c] * masses[3][d]
    assert found.chances == pytest.approx(wanted, abs=2e-3)


def test_the_population_is_a_prior_that_what_was_seen_moves() -> None:
    prior = dirichlet({"10": 30, "9": 60}, WHOLE, 10)
    assert prior["10"] == pytest.approx((0.5 + 10 / 3) / (5 + 10)) and sum(prior.values()) == pytest.approx(1)
    moved = blend(prior, pre_grade(Looked(EVEN, EVEN, (corner(size=Size.LARGE),)), PLUMB).chances)
    assert moved["10"] < prior["10"] and sum(moved.values()) == pytest.approx(1)
    fixed = with_gem({"10": 0.2, "9": 0.6, "8": 0.2}, 0.6)
    assert fixed == pytest.approx({"10": 0.6, "9": 0.3, "8": 0.1})


@settings(max_examples=25, deadline=None)
@given(st.integers(0, 10_000))
def test_gains_of_many_are_those_of_one_and_rise_with_the_gem(seed: int) -> None:
    random = np.random.default_rng(seed)
    chances = random.dirichlet(np.ones(4), 6)
    values = np.sort(random.uniform(5, 400, (6, 4)), axis=1)[:, ::-1].copy()
    raw, cost = random.uniform(5, 120, 6), np.full(6, 27.4)
    crack, tier = Cracking(D("0.02"), D(1)), TierLimit(D(250), D(15))
    many = work_out_gains(chances, values, raw, cost, WAY, crack, tier)
    for at in range(6):
        exact = {grade: D(f"{chances[at, n]:.9f}") for n, grade in enumerate(("10", "9", "8", "7"))}
        exact["7"] += 1 - sum(exact.values())
        question = GradingQuestion(exact, {grade: D(f"{values[at, n]:.9f}") for n, grade in enumerate(exact)},
                                   D(f"{raw[at]:.9f}"), D("27.4"), WAY, crack, tier)  # fmt: skip
        one = work_out_gain(question)
        assert many.gain[at] == pytest.approx(float(one.gain), abs=1e-5)
        assert many.chance_of_loss[at] == pytest.approx(float(one.chance_of_loss), abs=1e-6)
        even = {"always": 0.0, "never": 2.0}.get(one.break_even.case, float(one.break_even.gem or 0))
        assert many.even[at] == pytest.approx(even, abs=1e-5)
    curve = draw_curve(chances[0].tolist(), values[0].tolist(), float(raw[0]), D("27.4"), WAY, crack)
    assert (np.diff(curve.gain) >= -1e-9).all()  # where the gem nets more than the others' mean
    values[0, 0] = np.nan
    assert np.isnan(work_out_gains(chances, values, raw, cost, WAY).gain[0])


def outcome(gem: float, came: bool, grader: str = "Plumbline", month: int = 1) -> Outcome:
    return Outcome(0, grader, "Skerrylight", date(2026, month, 3), {"10": gem, "9": 1 - gem}, "10" if came else "9")


def test_the_record_is_split_as_murphy_split_it_over_the_groups_of_isotonic_regression() -> None:
    random = np.random.default_rng(28)
    said = np.round(random.uniform(0.05, 0.95, 300), 2)
    came = random.random(300) < said**1.5
    found = calibrate(said.tolist(), came.tolist())
    assert found is not None
    assert found.brier == pytest.approx(np.mean((said - came) ** 2))  # Brier 1950
    # Murphy 1973: reliability - resolution + uncertainty, over the groups; these by SciPy's isotonic regression
    order = np.lexsort((-came.astype(float), said))
    levels = np.unique(said[order], return_index=True, return_counts=True)
    means = np.add.reduceat(came[order].astype(float), levels[1]) / levels[2]
    fitted = np.repeat(optimize.isotonic_regression(means, weights=levels[2]).x, levels[2])
    base = came.mean()
    recalibrated = np.mean((fitted - came[order]) ** 2)
    assert found.uncertainty == pytest.approx(base * (1 - base))
    assert found.discrimination == pytest.approx(np.mean((fitted - base) ** 2))
    assert found.miscalibration == pytest.approx(found.brier - recalibrated)
    assert found.brier == pytest.approx(found.miscalibration - found.discrimination + found.uncertainty)
    assert sum(it.of for it in found.groups) == 300 and found.shift < 0 and found.correct(0.5) < 0.5
    assert abs(found.shrunk) < abs(found.shift) and calibrate([], []) is None
    perfect = calibrate([0.25] * 400, [True] * 100 + [False] * 300)
    assert perfect is not None and abs(perfect.shift) < 0.01 and perfect.miscalibration == pytest.approx(0)
    # the rule's example, by Wilson 1927
    rate = gem_rate("all", [outcome(0.5, at < 19) for at in range(30)])
    assert (round(rate.share, 3), round(rate.low, 3), round(rate.high, 3)) == (0.633, 0.455, 0.781)
    several = [outcome(0.1, False), outcome(0.95, True, "Fourfold", 5), outcome(0.15, True, "Fourfold", 5)]
    assert [(it.name, it.of) for it in gem_rates(several, "bucket")] == [("0 to 20 %", 2), ("80 to 100 %", 1)]
    assert [it.name for it in gem_rates(several, "quarter")] == ["2026 Q1", "2026 Q2"]
    assert grader_spread([[9], [10]]) is None


def test_a_second_opinion_is_weighed_with_breakage_and_a_least_grade() -> None:
    chances, values = {"10": D("0.3"), "9": D("0.6"), "8": D("0.1")}, {"10": D(240), "9": D(96), "8": D(70)}
    again = Again(Opinion.RESUBMIT, chances, values, D("28.40"), D(4), D("0.02"))
    found = {it.kind: it for it in weigh_again(D(96), WAY, [
        again, Again(Opinion.CROSS, chances, values, D("27.40"), D(4), D(0), "9"),
        Again(Opinion.REVIEW, chances, values, D("27.40"), D(4)),
    ])}  # fmt: skip
    now = 96 * 0.87 - 1.2
    nets = {"10": 240 * 0.87 - 1.2, "9": now, "8": 70 * 0.87 - 1.2}
    mean = sum(float(chances[it]) * nets[it] for it in nets)
    assert float(found[Opinion.RESUBMIT].net) == pytest.approx(0.98 * mean - 28.40)
    assert float(found[Opinion.SELL].net) == pytest.approx(now)
    # crossed over with a least grade it is never lower, and stays what it was
    assert float(found[Opinion.CROSS].net) == pytest.approx(0.3 * nets["10"] + 0.7 * now - 27.40)
    assert found[Opinion.REVIEW].net == found[Opinion.CROSS].net
    assert float(found[Opinion.RESUBMIT].worse) == pytest.approx(0.98 * 0.7 + 0.02)
    with pytest.raises(InputError, match="not to 1"):
        weigh_again(D(96), WAY, [Again(Opinion.REVIEW, {"10": D("0.5")}, values, D(1))])


def test_a_submission_is_planned_refused_and_its_gap_is_said() -> None:
    cards = [PlannedCard(at, "you" if at < 25 else "Bram", "s", D(20)) for at in range(30)]
    plan = plan_submission(cards, PLUMB, None, "USD", PostClass("p", "Parcel", D(52), D(500)), D("66.60"))
    # 18.40 + 12 % of 552.00 / 30 + 66.60 / 30 + 52.00 / 30, exactly
    assert float(plan.cost.planned["0"]) == pytest.approx(18.40 + 66.24 / 30 + 66.60 / 30 + 52 / 30)
    assert plan.cost.total == sum(plan.cost.per_owner.values()) == D("736.84") and plan.gap == D(100)
    assert insurance_gap([D(400)], None) == 400 and membership_pays_from(D(90), D(8)) == 12
    assert membership_pays_from(D(90), D(0)) is None and alone_pays_from(D(60), D(20), D(18)) is None
    assert explain_duty(D("71.10"), D("552.00"), D("0.12")) == D("4.86")
    assert state_membership(PLUMB) == (
        "A membership of 90.00 USD saves 8.00 a card: it pays from card 12 in its year."
    )  # the rule's example
    assert state_membership(FOUR) is None
    # 118.60 of parcels over what 30 cards cost by themselves, 20.608 each
    assert "pays from 36 cards: now it is dearer" in state_alone(plan, 30, D("23.92"), "USD")
    assert "always cheaper" in state_alone(plan, 30, D(20), "USD")
    for said, match in (([PlannedCard(1, "you", "x", D(1))], "no tier"), ([], "at least one"),
                        ([PlannedCard(1, "you", "s", D(501))], "takes up to 500.00"),
                        ([PlannedCard(1, "you", "m", D(1))], "2 cards or more")):  # fmt: skip
        with pytest.raises(InputError, match=match):
            plan_submission(said, PLUMB, None, "USD", membership=True)
    with pytest.raises(InputError, match="for members"):
        plan_submission([PlannedCard(at, "you", "m", D(1)) for at in (1, 2)], PLUMB, None, "USD")
    assert honest_value({"10": 0.2, "9": 0.8}, {"10": D(240), "9": D(96)}, D(80)) == 96
    assert honest_value({"10": 0.2, "9": 0.8}, {}, None) is None


def test_lines_placed_by_hand_measure_what_the_program_finds() -> None:
    scan = simulate_scan(7, 900)
    found = measure_centering(scan.pixels)
    edges, frame = ([(c[at], c[(at + 1) % 4]) for at in range(4)] for c in (found.corners, found.frame))
    placed = center_by_lines(edges, frame, dpi=scan.per_mm * 25.4)
    assert placed.left_right == pytest.approx(found.left_right, abs=0.05)
    assert placed.top_bottom == pytest.approx(found.top_bottom, abs=0.05)
    assert placed.size == pytest.approx((63, 88), abs=1.5) and judge_size(placed, (63, 88)) is SizeSays.ASLANT
    straight = [((0, 0), (630, 0)), ((630, 0), (630, 880)), ((630, 880), (0, 880)), ((0, 880), (0, 0))]
    inside = [((40, 40), (590, 40)), ((590, 40), (590, 840)), ((590, 840), (40, 840)), ((40, 840), (40, 40))]
    for size, says in (((63, 88), SizeSays.RIGHT), ((64, 89), SizeSays.SHORT)):
        assert judge_size(center_by_lines(straight, inside, dpi=254), size) is says
    assert judge_size(center_by_lines(straight, inside), (63, 88)) is None
    assert placed.uncertainty > found.uncertainty
    turned = [*frame[:3], (frame[3][0], (frame[3][1][0] + 6, frame[3][1][1]))]
    assert abs(center_by_lines(edges, turned).tilt) > abs(placed.tilt)
    alone = flatten(scan.pixels, found.corners, 300)
    assert alone.shape == (419, 300, 3)
    for wrong, match in ((frame[::-1], "card|outside"), (edges[:3], "four lines")):
        with pytest.raises(NotMeasured, match=match):
            center_by_lines(wrong, frame)
    with pytest.raises(NotMeasured, match="outside"):
        center_by_lines(edges, [((x1 * 3, y1 * 3), (x2 * 3, y2 * 3)) for (x1, y1), (x2, y2) in frame])


def test_grades_are_read_as_they_are_pasted() -> None:
    text = "no.;grade;certificate\n1; 9; 4711\n2\t9.5\t4712\t9.5/9.5/9/10\n\n3 refused: trimmed"
    first, second, third = read_grades(text, HALVES, ("a", "b", "c", "d"), 3)
    assert (first.grade, first.certificate) == ("9", "4711") and third.words == "refused: trimmed"
    assert second.subgrades == {"a": "9.5", "b": "9.5", "c": "9", "d": "10"} and second.certificate == "4712"
    for wrong, match in (("4 9", "1 to 3"), ("1 9\n1 8", "twice"), ("1 11", "no grade"), ("1 9 9/9", "2 subgrades"),
                         ("", "no line"), ("1", "which card")):  # fmt: skip
        with pytest.raises(InputError, match=match):
            read_grades(wrong, HALVES, ("a", "b", "c", "d"), 3)


def test_an_eye_that_leans_is_told_so() -> None:
    random = np.random.default_rng(41)
    trials = [BorderTrial((50 + random.normal(1.2, 0.8), 50 + random.normal(0, 0.8)), (50, 50)) for _ in range(30)]
    eye = judge_eye(trials)
    assert eye.left_right and eye.left_right.is_clear and "too much at the left" in state_eye(eye).text()
    assert eye.top_bottom and abs(eye.top_bottom.mean) < 0.6 and "more card" in state_eye(judge_eye(trials[:3])).text()
