"""Every sentence of `why` is judged again by the numbers that it names, and agrees with its flag."""

from __future__ import annotations

import random
import re
from collections.abc import Callable
from re import Match
from typing import Final

import pytest

from tests.support.evaluated import KINDS, one_test
from tests.support.sampling import seeds
from yuzen.errors import YuzenError

Truth = bool | None
NUMBER: Final = r"[−\d][\d,.]*(?:e[−\d]+)?[%kMB]?"
VALUE: Final = rf"(?:\((?P<{{0}}>{NUMBER}|missing)[^()]*\)|(?P<{{0}}_>{NUMBER}))"
N: Final = 2  # the parameter n of all charts


def read(text: str | None) -> float | None:
    """A number as a sentence writes it; None where it is missing."""
    if not text or text == "missing":
        return None
    factor = {"%": 0.01, "k": 1e3, "M": 1e6, "B": 1e9}.get(text[-1], 1.0)
    return float(text.rstrip("%kMB").replace("−", "-").replace(",", "")) * factor


def named(found: Match[str], name: str) -> float | None:
    """A number of a sentence, in brackets or bare."""
    return read(found[name] or found[f"{name}_"])


def compared(found: Match[str]) -> Truth:
    x, y = read(found["x"]), named(found, "y")
    if x is None or y is None:
        return None
    signs = {
        "above": x > y, "below": x < y, "at least": x >= y, "at most": x <= y,
        "other than": x != y, "exactly": x == y, "equal to": x == y, "": x == y,
    }  # fmt: skip
    return signs[(found["sign"] or "").strip()]


def between(found: Match[str]) -> Truth:
    x, low, high = read(found["x"]), named(found, "a"), named(found, "b")
    assert x is not None
    parts: list[Truth] = [None if low is None else x >= low, None if high is None else x <= high]
    return False if False in parts else None if None in parts else True


def extreme(found: Match[str]) -> Truth:
    if found["y"] is None:
        return True
    x, y = read(found["x"]), read(found["y"])
    assert x is not None and y is not None  # noqa: PT018
    assert x < y if found["end"] == "highest" else x > y
    return False


def amount(text: str) -> int:
    return N if text == "n" else int(text)


def in_range(place: int, ends: str) -> bool:
    first, _, last = ends.partition(" to ")
    return amount(first) <= place <= amount(last or first)


def ranked(found: Match[str]) -> Truth:
    rank, claim = int(found["rank"].replace(",", "")), found["claim"]
    if claim.startswith("rank"):
        return in_range(rank, claim.removeprefix("rank ").removesuffix(" from bottom"))
    most = re.search(r"\((\d+)\)", claim) or re.search(r"(?:top|bottom) (\d+)", claim)
    assert most
    return rank <= int(most[1])


def drawn_at(found: Match[str]) -> Truth:
    place, size = int(found["place"]), int(found["size"])
    word, _, count = found["claim"].partition(" ")
    if word == "position":
        return in_range(place, count)
    if word == "every":
        step, _, begins = count.partition(" from ")
        return place in range(amount(begins or step), size + 1, amount(step))
    return (place if word == "first" else size - place + 1) <= amount(count or "1")


def moved(found: Match[str]) -> Truth:
    old, new = read(found["old"]), read(found["new"])
    assert old is not None and new is not None  # noqa: PT018
    assert {"went up": new > old, "went down": new < old, "stayed": new == old}[found["way"]]
    return None if new == old else new > old


def usual(found: Match[str]) -> Truth:
    x, low, high = (read(found[name]) for name in ("x", "low", "high"))
    assert x is not None and low is not None and high is not None  # noqa: PT018
    assert {"inside": low <= x <= high, "above": x > high, "below": x < low}[found["where"]]
    return None


def turned(found: Match[str]) -> Truth:
    x, old = read(found["x"]), read(found["old"])
    assert x is not None
    ways = {"positive": x > 0 and (old or 0) < 0, "negative": x < 0 and (old or 0) > 0}
    if found["to"].endswith("sign"):
        return any(ways.values())
    return ways[found["to"].split()[-1]]


def record(found: Match[str]) -> Truth:
    x, best = read(found["x"]), read(found["best"])
    assert x is not None and best is not None  # noqa: PT018
    return x > best if found["end"] == "high" else x < best


def near(found: Match[str]) -> Truth:
    x, of = read(found["x"]), named(found, "y")
    assert x is not None and of is not None  # noqa: PT018
    far = float(N) if found["far"] == "n" else read(found["far"])
    assert far is not None
    if "%" in found["far"]:
        far *= abs(of)
    return abs(x - of) <= far + 1e-12


def signed(found: Match[str]) -> Truth:
    x = read(found["x"])
    assert x is not None
    return {"positive": x > 0, "negative": x < 0, "zero": x == 0}[found["sign"]]


def of_bin(found: Match[str]) -> set[Truth]:
    """Of the last bin, which holds its upper edge too, more may be true than of another."""
    low, high = read(found["low"]), read(found["high"])
    level, last = read(found["level"]), read(found["last"])
    assert low is not None and high is not None  # noqa: PT018
    if level is None:
        return {None}
    if found["sign"].startswith("within"):
        far = float(found["sign"].split()[1])
        level, last = level - far, level + far
    signs: dict[str, Callable[[float], bool]] = {
        "above": lambda x: x > level, "below": lambda x: x < level, "at least": lambda x: x >= level,
        "at most": lambda x: x <= level, "=": lambda x: x == level, "!=": lambda x: x != level,
        "between": lambda x: level <= x <= (level if last is None else last),
        "within": lambda x: level <= x <= (level if last is None else last),
    }  # fmt: skip
    sign = found["sign"].partition(" ")[0] if found["sign"].startswith("within") else found["sign"]
    inside = [low + (high - low) * part / 64 for part in range(64)]
    inside += [x for x in (level, last) if x is not None and low <= x < high]
    truths = {signs[sign](x) for x in inside}
    both = truths | {signs[sign](high)}
    return {next(iter(some)) if len(some) == 1 else None for some in (truths, both)}


def unknown(found: Match[str]) -> Truth:
    del found
    return None


X: Final = rf"^(?P<s>.+) (?P<x>{NUMBER})"
RANKS: Final = rf"{X} ranks (?P<rank>\d+) of \d+(?: \(with \d+ equal\))?(?: from the bottom)?, "
# What a sentence is, and how it is judged; "not" in it is looked at apart.
FORMS: Final[list[tuple[str, Callable[[Match[str]], Truth | set[Truth]]]]] = [
    (r"cannot be (compared: .+ is missing|placed between .+ and .+missing.*|placed between .+missing.*)$", unknown),
    (r" has none( before it| .+ before)$| has no sign before it to turn from$", unknown),
    (r" has none( before it| .+ before); '.+' is unknown yet$", unknown),
    (r" has none( before it| .+ before); '.+ times' does not hold$", lambda _: False),
    (r"^it is no item, and '.+' compares items$", unknown),
    (rf"^size (?P<low>{NUMBER}) to (?P<high>{NUMBER}) is (?:not )?(?P<sign>above|below|at least|at most|=|!=|between|within \d+ of) (?:v \()?(?P<level>{NUMBER}|missing)\)?(?: and (?P<last>\d+))?(?: in part only)?$", of_bin),
    (r"^size is in bins, of which no usual range is known$", unknown),
    (rf"{X} is (?:not )?between .*?{VALUE.format('a')} and .*?{VALUE.format('b')}$", between),
    (rf"{X} is (?:not )?within (?P<far>n|[\d.]+%?) of (?:.*?){VALUE.format('y')}$", near),
    (rf"{X} is (?:not )?the (?P<end>highest|lowest) of \d+ marks?(?:, which is (?P<y>{NUMBER}))?$", extreme),
    (rf"{RANKS}(?:not )?(?:in the )?(?P<claim>(?:top|bottom|rank) .+)$", ranked),
    (r"^drawn (?P<place>\d+) of (?P<size>\d+), (?:not )?(?P<claim>.+)$", drawn_at),
    (rf"^(?P<s>.+) (?P<way>went up|went down|stayed) from (?P<old>{NUMBER})(?: .+ before)? to (?P<new>{NUMBER})(?:, by {NUMBER})?(?:; '.+' (?:holds|does not hold|is unknown yet))?$", moved),
    (rf"{X} lies (?P<where>inside|above|below) the usual (?P<low>{NUMBER}) to (?P<high>{NUMBER}) of \d+ marks?$", usual),
    (rf"{X} after (?P<old>{NUMBER}) (?:does not )?(?P<to>turns? (?:positive|negative)|changes? sign)$", turned),
    (rf"{X}(?P<old>) (?:does not )?(?P<to>turns? (?:positive|negative)|changes? sign)$", turned),
    (rf"{X} is (?:not )?a new (?P<end>high|low), (?:above|below|after) (?P<best>{NUMBER})$", record),
    (rf"{X} is (?:not )?(?P<sign>positive|negative|zero)$", signed),
    (rf"{X} is (?:not )?(?P<sign>above |below |at least |at most |other than |exactly |equal to |)(?:.*?){VALUE.format('y')}$", compared),
]  # fmt: skip


def judged_again(sentence: str, condition: str) -> set[Truth]:
    """What a sentence's own numbers may say of its claim."""
    if re.search(r" is (not )?missing$", sentence):
        asks = re.search(r"\bmissing$", condition)
        return {" is not missing" not in sentence if asks else None}
    for form, judge in FORMS:
        found = re.search(form, sentence)
        if found is None:
            continue
        truth = judge(found)
        if judge is moved:
            way = truth is not None and truth == ("rises" in condition)
            told = re.search(r"' (holds|does not hold|is unknown yet)$", sentence)
            if told is None:
                return {way}
            assert way or told[1] != "holds", sentence
            # The size and the steps before are not in the sentence, which tells their result.
            return {{"holds": True, "does not hold": False, "is unknown yet": None}[told[1]]}
        if judge is usual:
            side = re.search(r"outlier ?(above|below)?", condition)
            assert side
            return {found["where"] in ({side[1]} if side[1] else {"above", "below"})}
        return truth if isinstance(truth, set) else {truth}
    raise AssertionError(f"This sentence has another form: {sentence}")


@pytest.mark.sampled(2)
@pytest.mark.parametrize("kind", KINDS)
def test_no_reason_contradicts_its_flag(kind: str) -> None:
    judged = 0
    for seed in seeds(0, 24):
        r = random.Random(seed)  # noqa: S311 - no secret
        case = KINDS[kind](r)
        for _ in range(8):
            condition = one_test(r, case)
            try:
                ruled = case.chart.rule(condition, name="r", color="adverse", **case.rule).stages
                truths = ruled.verdict.whole.truths[0].tolist()
            except YuzenError:
                continue
            because = ruled.context.explain(ruled.verdict.rules[0])
            plain = re.sub(r" within (?!\d)[\w ]+$", "", condition)
            for mark, flag in enumerate(truths):
                sentence = re.sub(r" within (?!\d|n of)[\w, ]+$", "", because(mark))
                if sentence in {"it is a total", "it is not a total"}:
                    assert flag == -1
                    continue
                expected = {
                    0 if truth is None else 1 if truth else -1
                    for truth in judged_again(sentence, plain)
                }
                assert flag in expected, f"{condition}: {sentence}"
                # "not" is where the claim does not hold, and nowhere else.
                denied = bool(re.search(r" is not | not in | does not |, not ", sentence))
                assert not (denied and flag == 1), f"{condition}: {sentence}"
                judged += 1
    assert judged > 30
