"""Rule C-16: any sequence of what a collector does balances, and any step can be taken back while it is the last."""

from dataclasses import replace
from datetime import date
from decimal import Decimal as D
from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, precondition, rule

from tobbix.core.base.errors import Conflict, InputError
from tobbix.core.holdings import dealing, ledger, register
from tobbix.core.holdings.allocation import Method, Part, divide
from tobbix.core.holdings.history import History, Mark, take_back
from tobbix.core.holdings.ledger import Account, Entry, Posting
from tobbix.core.holdings.register import Change, Thing
from tobbix.core.holdings.states import (
    HELD_STATES,
    Action,
    DocumentKind,
    DocumentState,
    Kind,
    Purpose,
    State,
    follow,
)

DAY = date(2026, 11, 25)
FRIEND = 7


def balances(entries: list[Entry]) -> dict[tuple[Account, str | None], D]:
    """The balance of every account and purse (money, debit positive)."""
    found: dict[tuple[Account, str | None], D] = {}
    for entry in entries:
        for line in entry.lines:
            key = (line.account, line.purse)
            found[key] = found.get(key, D(0)) + line.amount
    return found


def cash(amount: D) -> Posting:
    return Posting(Account.CASH, amount, "bank")


cents = st.decimals(0, 99_999, places=2)
price = st.decimals("0.01", 900, places=2)


class Collector(RuleBasedStateMachine):
    """Any sequence of what a collector does: after each step the books balance and nothing is lost."""

    def __init__(self) -> None:
        super().__init__()
        self.things: dict[int, Thing] = {}
        self.entries: list[Entry] = []
        self.marks: dict[int, list[Mark]] = {}
        self.before: dict[int, dict[int, Thing | None]] = {}
        self.made = 0
        self.paid: dict[int, D] = {}

    def keep(self, change: Change, came: D = D(0)) -> None:
        """Keep what an event did; ``came`` is the cash that came in by it, as whoever did it says."""
        number = len(self.entries)
        self.entries.append(change.entry)
        self.paid[number] = came
        self.before[number] = {t.key: self.things.get(t.key) for t in change.things}
        for t in change.things:
            self.things[t.key] = t
            mark = Mark(number, change.entry.text, t.state, t.count, t.basis)
            self.marks.setdefault(t.key, []).append(mark)

    def new(self, count: int = 1, value: D | None = None, state: State = State.HELD, owner: int | None = None) -> Thing:
        self.made += 1
        return Thing(self.made, f"thing {self.made}", count, state, None, value, owner=owner)

    def some(self, *states: State, most: int = 3) -> list[Thing]:
        found = [t for t in self.things.values() if t.state in states and t.kind is not Kind.SUPPLY]
        return found[-most:]

    def own(self, *states: State) -> list[Thing]:
        return [t for t in self.some(*states, most=99) if t.owner is None][-3:]

    @rule(price=price, shipping=cents, counts=st.lists(st.integers(1, 6), min_size=1, max_size=4), here=st.booleans())
    def buy(self, price: D, shipping: D, counts: list[int], here: bool) -> None:
        state = State.HELD if here else State.IN_TRANSIT
        things = [self.new(count, D(count), state) for count in counts]
        shares = divide(price + shipping, [Part(t.name, t.value) for t in things], Method.VALUE)
        bought = [replace(t, basis=s) for t, s in zip(things, shares, strict=True)]
        self.keep(register.buy(bought, [cash(-price), cash(-shipping)], DAY, "buy"), -price - shipping)

    @precondition(lambda self: self.some(State.IN_TRANSIT))
    @rule()
    def receive(self) -> None:
        self.keep(register.receive(self.some(State.IN_TRANSIT), DAY, "receive"))

    @precondition(lambda self: self.own(State.HELD))
    @rule(values=st.lists(st.integers(1, 50), min_size=3, max_size=3))
    def divide_again(self, values: list[int]) -> None:
        held = self.own(State.HELD, State.IN_TRANSIT)
        again = [Part(t.name, D(v)) for t, v in zip(held, values, strict=False)]
        self.keep(register.divide_again(held, again, Method.VALUE, DAY, "again"))

    @precondition(lambda self: self.own(State.HELD))
    @rule(
        values=st.lists(st.none() | cents, max_size=6), share=st.sampled_from(["0", "0.25", "1"]), data=st.data(),
        left=st.integers(0, 15),
    )  # fmt: skip
    def open(self, values: list[D | None], share: str, left: int, data: st.DataObject) -> None:
        sealed = self.own(State.HELD)[0]
        opened = data.draw(st.integers(1, sealed.count))
        pulls = [self.new(1, value) for value in values]
        packs = register.PacksLeft(self.new(), Fraction(left, 16)) if left else None
        purpose = data.draw(st.sampled_from(Purpose))
        change = register.open_sealed(sealed, opened, pulls, D(share), DAY, "open", packs_left=packs, purpose=purpose)
        if opened < sealed.count:  # what was opened leaves the stack under a key of its own
            gone = replace(change.things[0], key=self.new().key)
            change = replace(change, things=(gone, *change.things[1:]))
        self.keep(change)

    @precondition(lambda self: self.own(*HELD_STATES))
    @rule(amount=price)
    def duty_comes_later(self, amount: D) -> None:
        self.keep(register.add_cost(self.own(*HELD_STATES), cash(-amount), DAY, "duty"), -amount)

    @precondition(lambda self: any(t.basis is None for t in self.own(State.HELD)))
    @rule(basis=cents)
    def a_bill_is_found(self, basis: D) -> None:
        forgotten = next(t for t in self.own(State.HELD) if t.basis is None)
        self.keep(register.remember_basis(forgotten, basis, DAY, "bill"))

    @precondition(lambda self: self.own(State.HELD, State.IN_TRANSIT, State.RETURNED))
    @rule(amount=price)
    def refund(self, amount: D) -> None:
        things = self.own(State.HELD, State.IN_TRANSIT, State.RETURNED)
        self.keep(register.take_refund(things, cash(amount), DAY, "refund"), amount)

    @precondition(lambda self: self.some(State.HELD, State.AWAY))
    @rule(action=st.sampled_from([Action.LOSE, Action.GIVE_AWAY, Action.SEND_BACK]), purpose=st.sampled_from(Purpose))
    def take_out(self, action: Action, purpose: Purpose) -> None:
        thing = self.some(State.HELD, State.AWAY)[-1]
        if thing.state is State.HELD or action is Action.LOSE:
            self.keep(register.take_out([thing], action, DAY, "out", purpose))

    @rule(basis=st.none() | cents, owner=st.none() | st.just(FRIEND), kind=st.sampled_from([Kind.CARD, Kind.SUPPLY]))
    def bring_in(self, basis: D | None, owner: int | None, kind: Kind) -> None:
        own = owner is None or kind is Kind.SUPPLY
        thing = replace(self.new(3), basis=basis if own else None, owner=None if own else owner, kind=kind)
        self.keep(register.bring_in([thing], DAY, "before"))

    @precondition(lambda self: any(t.count > 1 for t in self.some(State.HELD)))
    @rule(data=st.data())
    def split_and_join(self, data: st.DataObject) -> None:
        stack = next(t for t in self.some(State.HELD) if t.count > 1)
        change = register.split(stack, [data.draw(st.integers(1, stack.count - 1))], DAY, "split")
        stays, taken = change.things
        taken = replace(taken, key=self.new().key)
        self.keep(replace(change, things=(stays, taken)))
        if data.draw(st.booleans()):
            self.keep(register.join([stays, taken], DAY, "join"))
            assert (self.things[stack.key].count, self.things[stack.key].basis) == (stack.count, stack.basis)

    @precondition(lambda self: self.some(State.HELD))
    @rule(data=st.data(), shipping=cents)
    def sell(self, data: st.DataObject, shipping: D) -> None:
        things = self.some(State.HELD)
        proceeds = {t.key: data.draw(price) for t in things}
        fee = data.draw(st.decimals(0, 1, places=2))
        came = sum(proceeds.values()) + shipping - fee
        money = [cash(came), Posting(Account.FEES, fee)]
        self.keep(dealing.sell(things, proceeds, money, DAY, "sell", shipping), came)

    @precondition(lambda self: self.some(State.SOLD))
    @rule(amount=price, keeps=st.booleans())
    def a_buyer_is_paid_back(self, amount: D, keeps: bool) -> None:
        sold = self.some(State.SOLD)[-1:]
        pay = dealing.refund_buyer if keeps else dealing.take_return
        self.keep(pay(sold, {sold[0].key: amount}, [cash(-amount)], DAY, "paid back"), -amount)

    @precondition(lambda self: self.own(State.HELD))
    @rule(amount=st.none() | st.decimals(-500, 500, places=2), values=st.lists(cents, min_size=1, max_size=3))
    def trade(self, amount: D | None, values: list[D]) -> None:
        given = self.own(State.HELD)[-2:]
        got = [self.new(1, value) for value in values]
        line = cash(amount) if amount else None
        unknown = [t for t in given if t.basis is None]
        if unknown and (line or len(unknown) < len(given)):
            with pytest.raises(InputError, match="say what it cost first"):
                dealing.trade(given, got, line, DAY, "trade")
            return
        self.keep(dealing.trade(given, got, line, DAY, "trade"), amount or D(0))

    @precondition(lambda self: self.some(State.HELD))
    @rule(amount=price)
    def send_away(self, amount: D) -> None:
        things = self.some(State.HELD)
        self.keep(dealing.send_away(things, DAY, "send"))
        away = [self.things[t.key] for t in things]
        self.keep(dealing.bill_service(away, [t.key for t in away], cash(-amount), DAY, "fee"), -amount)

    @precondition(lambda self: self.some(State.AWAY))
    @rule()
    def come_back(self) -> None:
        back = dealing.come_back(self.some(State.AWAY)[:2], DAY, "back")
        self.keep(back)
        self.keep(dealing.crack(back.things[0], DAY, "crack"))

    @precondition(lambda self: any(t.kind is Kind.SUPPLY and t.state is State.HELD for t in self.things.values()))
    @rule(data=st.data())
    def use_up(self, data: st.DataObject) -> None:
        supply = next(t for t in self.things.values() if t.kind is Kind.SUPPLY and t.state is State.HELD)
        self.keep(dealing.use_up(supply, data.draw(st.integers(1, supply.count)), DAY, "use"))

    @precondition(lambda self: self.some(State.LOST))
    @rule(amount=price)
    def claim(self, amount: D) -> None:
        lost = self.some(State.LOST)[-1:]
        self.keep(dealing.settle_claim(lost, {lost[0].key: amount}, cash(amount), DAY, "claim"), amount)

    @rule()
    def settle_with_the_friend(self) -> None:
        found = balances(self.entries)
        owed = {account: found.get((account, None), D(0)) for account in ledger.OWED}
        net = sum(owed.values())
        if net:
            self.keep(dealing.settle(FRIEND, owed, cash(net), DAY, "settle"), net)
            found = balances(self.entries)
            assert sum(found.get((account, None), D(0)) for account in ledger.OWED) == 0

    @precondition(lambda self: self.before)
    @rule(data=st.data())
    def take_something_back(self, data: st.DataObject) -> None:
        """Either everything is as it was before, or it is said what stands in the way."""
        number = data.draw(st.sampled_from(sorted(self.before)[-6:]))
        touched = list(self.before[number])
        histories = [History(self.things[key], tuple(self.marks[key])) for key in touched]
        stands = [key for key in touched if self.marks[key][-1].entry != number]
        try:
            change = take_back(number, self.entries[number], histories, DAY)
        except Conflict as error:
            assert stands and all(f"“{self.marks[key][-1].text}”" in str(error) for key in stands[:1])
            return
        assert not stands
        for thing in change.things:
            before = self.before[number][thing.key]
            now = self.things[thing.key] = thing
            self.marks[thing.key].pop()
            if before is None:
                assert now.state is State.UNDONE
                assert self.marks[thing.key] == []
            else:
                assert (now.state, now.count, now.basis) == (before.state, before.count, before.basis)
        self.entries.append(change.entry)
        del self.before[number], self.paid[number]

    @invariant()
    def the_books_balance_and_stock_is_the_sum_of_bases(self) -> None:
        found = balances(self.entries)
        assert sum(found.values()) == 0
        assert found.get((Account.CASH, "bank"), D(0)) == sum(self.paid.values())
        assert ledger.held_balance(found) == register.known_basis(list(self.things.values()))
        supplies = [t for t in self.things.values() if t.kind is Kind.SUPPLY]
        assert found.get((Account.SUPPLIES, None), D(0)) == register.known_basis(supplies)
        assert all(t.basis is None or t.basis >= 0 for t in self.things.values() if t.state in HELD_STATES)
        assert all(t.basis is None for t in self.things.values() if t.owner is not None)


Collector.TestCase.settings = settings(max_examples=60, stateful_step_count=30, deadline=None)
TestCollector = Collector.TestCase


def held(key: int, basis: str | None, count: int = 1, owner: int | None = None) -> Thing:
    return Thing(key, f"card {key}", count, State.HELD, None if basis is None else D(basis), None, Kind.CARD, owner)


def lines(change: Change) -> set[tuple[Account, D]]:
    return {(line.account, line.amount) for line in change.entry.lines}


def test_a_sale_keeps_fees_apart_and_a_friend_s_card_is_the_friend_s() -> None:
    money = [cash(D("84.00")), Posting(Account.FEES, D("11.00"))]
    things = [held(1, "20.00"), held(2, None, owner=FRIEND)]
    change = dealing.sell(things, {1: D(50), 2: D(40)}, money, DAY, "two cards", shipping=D(5))
    assert lines(change) == {
        (Account.CASH, D(84)), (Account.FEES, D(11)), (Account.INCOME, D(-55)), (Account.PAYABLE, D(-40)),
        (Account.STOCK, D(-20)), (Account.COST_OF_SALES, D(20)),
    }  # fmt: skip
    with pytest.raises(InputError, match=r"-1\.00 off the 95"):
        dealing.sell(things, {1: D(50), 2: D(40)}, [cash(D("94.00"))], DAY, "two cards", shipping=D(5))
    with pytest.raises(Conflict, match="card 1: what is sold cannot be sold"):  # nothing is sold twice
        dealing.sell(change.things, {1: D(1), 2: D(1)}, [cash(D(2))], DAY, "again")
    back = dealing.take_return(change.things[:1], {1: D(50)}, [cash(D("-50"))], DAY, "returned")
    assert back.things == things[:1] or back.things == tuple(things[:1])
    assert lines(back) == {
        (Account.CASH, D(-50)), (Account.INCOME, D(50)), (Account.STOCK, D(20)), (Account.COST_OF_SALES, D(-20)),
    }  # fmt: skip


def test_a_trade_carries_the_cost_on_and_cash_beyond_it_is_income() -> None:
    got = [replace(held(3, None), value=D(30)), replace(held(4, None), value=D(10))]
    paid = dealing.trade([held(1, "20.00")], got, cash(D("-4.00")), DAY, "trade")
    assert [t.basis for t in paid.things[1:]] == [D("18.00"), D("6.00")]
    more = dealing.trade([held(1, "20.00")], got, cash(D("25.00")), DAY, "trade")
    assert [t.basis for t in more.things[1:]] == [0, 0] and (Account.INCOME, D("-5.00")) in lines(more)
    unknown = dealing.trade([held(1, None)], got, None, DAY, "trade")
    assert [t.basis for t in unknown.things[1:]] == [None, None] and not unknown.entry.moves
    with pytest.raises(Conflict, match="somebody else"):
        dealing.trade([held(1, None, owner=FRIEND)], got, None, DAY, "trade")


def test_a_bill_of_a_service_is_each_owner_s_to_the_cent() -> None:
    """C-25: 40.00 over three cards, of which one is a friend's, is 13.34, 13.33 and 13.33 (largest remainder)."""
    cards = [held(1, "10.00"), held(2, None, owner=FRIEND), held(3, None)]
    change = dealing.bill_service(cards, [1, 2, 3], cash(D("-40.00")), DAY, "fee")
    assert change.things == (held(1, "23.34"),)
    assert lines(change) == {
        (Account.CASH, D("-40.00")), (Account.STOCK, D("13.34")), (Account.RECEIVABLE, D("13.33")),
        (Account.FEES, D("13.33")),
    }  # fmt: skip
    claim = dealing.settle_claim(
        [replace(t, state=State.LOST) for t in cards[:2]], {1: D(25), 2: D(30)}, cash(D(55)), DAY, "insurer"
    )
    assert lines(claim) == {
        (Account.CASH, D(55)), (Account.LOST, D(-10)), (Account.INCOME, D(-15)), (Account.PAYABLE, D(-30)),
    }  # fmt: skip
    owed = {Account.RECEIVABLE: D("13.33"), Account.PAYABLE: D("-30.00")}
    assert lines(dealing.settle(FRIEND, owed, cash(D("-16.67")), DAY, "set off")) == {
        (Account.CASH, D("-16.67")), (Account.RECEIVABLE, D("-13.33")), (Account.PAYABLE, D("30.00")),
    }  # fmt: skip
    with pytest.raises(InputError, match=r"16\.67 that is owed"):
        dealing.settle(FRIEND, owed, cash(D("-16.68")), DAY, "too much")


@given(st.lists(st.integers(1, 9), min_size=1, max_size=5), st.none() | cents)
def test_a_stack_falls_apart_to_the_cent(counts: list[int], basis: D | None) -> None:
    change = register.split(held(1, None if basis is None else str(basis), sum(counts) + 1), counts, DAY, "split")
    assert [t.count for t in change.things] == [1, *counts]
    assert sum((t.basis or D(0) for t in change.things), D(0)) == (basis or 0)
    with pytest.raises(InputError, match="so that one stays"):
        register.split(held(1, None, sum(counts)), counts, DAY, "split")


def test_documents_go_their_own_ways() -> None:
    state = DocumentState
    assert follow(DocumentKind.PURCHASE, state.ORDERED, state.RECEIVED) is state.RECEIVED
    assert follow(DocumentKind.ORDER, state.SENT, state.UNDONE) is state.UNDONE
    for kind, before, after in (
        (DocumentKind.ORDER, state.PAID, state.DONE),
        (DocumentKind.PURCHASE, state.UNDONE, state.RECEIVED),
        (DocumentKind.SUBMISSION, state.UNDONE, state.UNDONE),
    ):
        with pytest.raises(Conflict):
            follow(kind, before, after)
