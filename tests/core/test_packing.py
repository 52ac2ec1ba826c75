"""Parcels: every plan against one written out by hand here, random supplies, and published sizes (C-31)."""

from dataclasses import replace
from decimal import Decimal as D
from itertools import product

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tobbix.core.base.errors import InputError
from tobbix.core.selling.packing import Holder, MailClass, Outer, PackedCard, Parcel, Sleeve, Wrap, plan_packing

Whole = tuple[int, int, int]


def sizes(*most: int) -> st.SearchStrategy[tuple[D, D, D]]:
    return st.tuples(*(st.integers(1, side).map(D) for side in most)).map(lambda it: (it[0], it[1], it[2]))


small = st.integers(0, 3).map(D)
cards = st.builds(PackedCard, st.just("c"), sizes(6, 6, 2), small, st.booleans())
sleeves = st.builds(Sleeve, st.just("s"), sizes(7, 7, 3), st.just((D(1), D(1), D(0))), small, small)
wraps = st.builds(Wrap, st.just("w"), st.just((D(1), D(0), D(1))), small, small)
holders = st.builds(Holder, st.just("h"), sizes(9, 9, 4), sizes(9, 9, 5), small, small, st.booleans())
outers = st.builds(
    Outer, st.just("o"), st.just("box"), sizes(14, 14, 9),
    st.tuples(st.integers(4, 15).map(D), st.integers(4, 15).map(D), st.none() | st.integers(2, 9).map(D)), small, small,
    small, st.booleans(),
)  # fmt: skip
classes = st.builds(
    MailClass, st.just("k"), small, st.just((D(4), D(3), D(1))), sizes(18, 18, 12), st.integers(1, 25).map(D),
    st.booleans(), st.booleans(), st.integers(0, 9).map(D), st.none() | st.integers(1, 30).map(D),
    st.sampled_from([D(0), D("0.1")]),
)  # fmt: skip


def named(prefix: str, of: st.SearchStrategy[object], least: int, most: int) -> st.SearchStrategy[tuple[object, ...]]:
    return st.lists(of, min_size=least, max_size=most).map(
        lambda found: tuple(replace(it, id=f"{prefix}{at}") for at, it in enumerate(found))  # type: ignore[type-var]
    )


parcels = st.builds(
    Parcel, st.just("EUR"), st.integers(0, 40).map(D), st.none() | st.integers(1, 40).map(D), named("c", cards, 1, 4),
    named("s", sleeves, 0, 2), named("w", wraps, 0, 2), named("h", holders, 0, 2), named("o", outers, 1, 2),
    named("k", classes, 1, 2),
)  # fmt: skip


def by_hand(p: Parcel) -> list[tuple[D, str, str, str | None, str | None]]:
    """The rule once more, as loops over everything."""
    found = []
    raw, slabs = [c for c in p.cards if not c.slab], [c for c in p.cards if c.slab]
    chosen = [[s for s in p.sleeves if all(a <= b for a, b in zip(c.size, s.inner, strict=True))][:1] for c in raw]
    if not all(chosen):
        return []
    for holder, wrap, outer, mail in product(p.holders if raw else (None,), (None, *p.wraps), p.outers, p.classes):
        filled: list[D] = []
        if holder is not None:
            bad = False
            for card, (sleeve,) in zip(raw, chosen, strict=True):
                w, h, t = (a + b for a, b in zip(card.size, sleeve.adds, strict=True))
                bad |= w > holder.inner[0] or h > holder.inner[1] or t > holder.inner[2]
                if filled and filled[-1] + t <= holder.inner[2]:
                    filled[-1] += t
                else:
                    filled.append(t)
            if bad:
                continue
        pieces = [c.size for c in slabs] + [holder.outer for _ in filled if holder is not None]
        if (wrap is not None) != (len(pieces) > 1 or bool(slabs)):
            continue
        w, h, t = max(it[0] for it in pieces), max(it[1] for it in pieces), sum((it[2] for it in pieces), D(0))
        if wrap is not None:
            w, h, t = w + wrap.adds[0], h + wrap.adds[1], t + wrap.adds[2]
        straight = w <= outer.inner[0] and h <= outer.inner[1]
        if not (straight or (h <= outer.inner[0] and w <= outer.inner[1])) or t > outer.inner[2]:
            continue
        outside = sorted([outer.outer[0], outer.outer[1], t + outer.wall if outer.outer[2] is None else outer.outer[2]])
        outside.reverse()
        parts: list[Sleeve | Holder | Wrap | Outer] = [*(s for (s,) in chosen), outer]
        parts += [holder] * len(filled) if holder else []
        parts += [wrap] if wrap else []
        weight = sum((c.weight for c in p.cards), D(0)) + sum((it.weight for it in parts), D(0))
        rigid = bool(slabs) or outer.rigid or (holder is not None and holder.rigid)
        if not all(a <= b <= c for a, b, c in zip(mail.least, outside, mail.most, strict=True)):
            continue
        if weight > mail.most_weight or (mail.no_rigid and rigid):
            continue
        if p.tracking_from is not None and p.value >= p.tracking_from and not mail.tracked:
            continue
        if mail.value_limit is not None and p.value > mail.value_limit:
            continue
        packing = sum((it.cost for it in parts), D(0))
        cost = mail.price + packing + mail.loss * max(p.value - mail.insured_to, D(0))
        found.append((cost, mail.id, outer.id, holder.id if holder else None, wrap.id if wrap else None))
    return found


@settings(max_examples=150, deadline=None)
@given(parcels)
def test_every_plan_and_no_other(parcel: Parcel) -> None:
    found = plan_packing(parcel)
    plans = [(it.expected_cost, it.mail_class, it.outer, it.holder, it.wrap) for it in found.plans]
    assert sorted(plans, key=str) == sorted(by_hand(parcel), key=str)
    assert [(it.expected_cost, it.weight) for it in found.plans] == sorted(
        (it.expected_cost, it.weight) for it in found.plans
    )
    assert {it.mail_class for it in found.plans} | {name for name, _ in found.refused} == {
        it.id for it in parcel.classes
    }
    assert all(why for _, why in found.refused)


def test_published_sizes_and_why_a_class_is_refused() -> None:
    """A6 is 105 x 148 mm (ISO 216) and goes into a C6 envelope of 114 x 162 mm (ISO 269); a letter is at least 90 x
    140 mm (UPU Convention Regulations). From memory."""
    letter = MailClass(
        "letter", D(1), (D(140), D(90), D(0)), (D(235), D(125), D(5)), D(20), True, False, D(0), D(50), D(0)
    )
    flat = PackedCard("A6", (D(105), D(148), D("0.3")), D(4))
    sleeve = Sleeve("none to speak of", (D(110), D(150), D(1)), (D(0), D(0), D(0)), D(0), D(0))
    folder = Holder("folded card", (D(110), D(150), D(1)), (D(110), D(152), D(1)), D(4), D(0))
    c6 = Outer("C6", "envelope", (D(112), D(160), D(4)), (D(114), D(162), None), D("0.4"), D(5), D(0))
    a7 = Outer("A7", "envelope", (D(150), D(160), D(4)), (D(74), D(105), None), D("0.4"), D(5), D(0))

    def pack(outer: Outer, value: int = 10, tracking: int | None = None) -> tuple[int, str]:
        found = plan_packing(Parcel(
            "EUR", D(value), None if tracking is None else D(tracking), (flat,), (sleeve,), (), (folder,), (outer,),
            (letter,),
        ))  # fmt: skip
        return len(found.plans), found.refused[0][1] if found.refused else ""

    assert pack(c6) == (1, "")
    assert pack(a7) == (0, "takes from 140 mm on the longest side, this has 105 mm")
    assert pack(c6, 60)[1] == "takes values up to 50 only"
    assert pack(c6, 50, 50)[1] == "is not tracked, which is required from 50"
    with pytest.raises(InputError, match="at least one"):
        plan_packing(Parcel("EUR", D(1), None, (), (), (), (), (c6,), (letter,)))
