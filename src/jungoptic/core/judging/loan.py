"""Is everything there on the day?"""

from __future__ import annotations

import datetime

from ..plan.findings import Finding, Quantity, Verdict, Working
from ..plan.loan import Loan, shared
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..stage.case import Case
from .numbers import asked
from .rule import Measured, Numbers, Rule, verdict_of
from .way import Way


def loan_verdict(loans: list[Loan], day: datetime.date | None) -> Verdict:
    """Breaks when something is not there on `day`, strains while a loan is limited and no day is
    given."""
    limited = [loan for loan in loans if loan.first or loan.last]
    if day is None:
        return Verdict.STRAINS if limited else Verdict.HOLDS
    return Verdict.HOLDS if all(loan.covers(day) for loan in limited) else Verdict.BREAKS


def stage_loans(shot: Shot, plate: Plate) -> dict[str, Loan]:
    """Room, placed lamps, and the support and cloth that a plate names, with their loans."""
    kit, found = shot.kit, {}
    room = kit.room(plate.room_id)
    if room is not None:
        found[room.name] = room.loan
    for grip in (kit.support(plate.support_id), kit.cloth(plate.cloth_id)):
        if grip is not None:
            found[grip.name] = grip.loan
    for placed in plate.lamps:
        lamp = kit.lamp(placed.lamp_id)
        if lamp is not None:
            found[lamp.name] = lamp.loan
    return found


def _things(case: Case) -> list[tuple[str, Loan]]:
    """What the plate uses, by name, with its loan; each once."""
    choice = case.choice
    found = {choice.body.name: choice.body.loan, choice.lens.name: choice.lens.loan}
    found |= stage_loans(case.shot, case.plate)
    return [
        (name, loan) for name, loan in found.items() if loan.borrowed or loan.first or loan.last
    ]


def _written(loans: list[Loan], film_on: datetime.date | None) -> str:
    """How days are written: with their year where not all are of one."""
    days = [film_on, *(d for loan in loans for d in (loan.first, loan.last))]
    return "%-d %B" if len({d.year for d in days if d is not None}) < 2 else "%-d %B %Y"


def span(loan: Loan, written: str) -> str:
    """The days of a loan in words, as `strftime` is told to write them."""
    first = "" if loan.first is None else f" from {loan.first:{written}}"
    last = "" if loan.last is None else f" until {loan.last:{written}}"
    return first + last


def judge_loan(case: Case) -> Finding | None:
    """Whether what is borrowed is there on the plate's day; None when nothing is borrowed."""
    things = _things(case)
    if not things:
        return None
    day = case.plate.film_on
    limited = [(name, loan) for name, loan in things if loan.first or loan.last]
    missing = [(n, loan) for n, loan in limited if day is not None and not loan.covers(day)]
    verdict = verdict_of(asked(measure, case))
    written = _written([loan for _, loan in limited], day)
    if day is not None and missing:
        name, loan = missing[0]
        days = span(loan, written)
        sentence = f"The {name} is there{days} only; this plate is filmed on {day:{written}}."
    elif day is None and limited:
        name, loan = limited[0]
        sentence = f"The {name} is on loan{span(loan, written)}: give this plate a day."
    else:
        names = " and ".join(name for name, _ in things)
        sentence = f"Borrowed and there: {names}."
    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                "first day ≤ day of filming ≤ last day",
                (Quantity("n", "borrowed things in use", float(len(things)), ""),),
                Quantity("m", "not there on the day", float(len(missing)), ""),
                "The loan dates in the kit, both days included.",
            ),
        ),
    )


def _ways(case: Case) -> list[Way]:
    """A day on which everything borrowed is there, when there is one."""
    limited = [(name, loan) for name, loan in _things(case) if loan.first or loan.last]
    written = _written([loan for _, loan in limited], case.plate.film_on)
    all_there = shared(loan for _, loan in limited)
    day = all_there.last or all_there.first
    if day is None or not all_there.covers(day):
        return []
    way = f"Film it on {day:{written}}."
    return [Way(way, {"film_on": day}, "Everything borrowed is there then.")]


def measure(n: Numbers) -> Measured:
    """Whether everything is there on the plate's day."""
    fixed, day = list(stage_loans(n.shot, n.plate).values()), n.plate.film_on
    ranks = n.of_setup(
        f"loan {day} {fixed}",
        lambda s: loan_verdict([s.body.loan, s.lens.loan, *fixed], day).rank,
    )
    return Measured(ranks, ranks)


RULE = Rule(
    key="loan",
    title="Borrowed things",
    name="borrowed things",
    speak=judge_loan,
    ways=_ways,
    axes=frozenset({"setup"}),
    measure=measure,
    otherwise="Another day, while the borrowed things are there.",
)
