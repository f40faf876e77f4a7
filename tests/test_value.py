"""Values: dataclasses that are completed when the first of their kind is made, whichever way it begins."""

from __future__ import annotations

import copy
import pickle
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor
from dataclasses import FrozenInstanceError, asdict, dataclass, field, fields, is_dataclass, replace
from importlib import import_module
from inspect import signature
from pathlib import Path
from pkgutil import walk_packages

import pytest

import yuzen
from yuzen.value import Value

EXTRAS = {"yuzen.jobs.cluster", "yuzen.__main__"}


class Place(Value):
    row: int
    column: int = 0
    names: list[str] = field(default_factory=list)


class Named(Place):
    name: str = ""


class Unlike(Value, eq=False):
    _values: int  # a name as any other


@dataclass(frozen=True)
class Plain:
    row: int
    column: int = 0
    names: list[str] = field(default_factory=list)


def test_a_value_is_what_a_frozen_dataclass_is() -> None:
    value, plain = Place(3, names=["a"]), Plain(3, names=["a"])
    assert repr(value) == repr(plain).replace("Plain", "Place")
    assert (asdict(value), is_dataclass(Place)) == (asdict(plain), True)
    assert [(one.name, one.type) for one in fields(Place)] == [
        (one.name, one.type) for one in fields(Plain)
    ]
    assert value == Place(3, names=["a"])
    assert value not in (Place(4), plain)
    assert (replace(value, row=5).row, Named(1, name="x").name) == (5, "x")
    assert Named(1) != Place(1)
    assert Unlike(1) != Unlike(1)
    with pytest.raises(FrozenInstanceError):
        value.row = 4  # type: ignore[misc]
    with pytest.raises(TypeError, match="missing 1 required positional argument: 'row'"):
        Place()  # type: ignore[call-arg]
    match value:
        case Place(row, column):
            assert (row, column) == (3, 0)


class Sized(Value, kw_only=True):
    width: float
    height: float = 2.0
    names: tuple[str, ...] = field(default=(), repr=False)
    place: int = field(default=0, compare=False)

    def __post_init__(self) -> None:
        if self.width < 0:
            raise ValueError(self.width)


@dataclass(frozen=True, kw_only=True)
class SizedPlainly:
    width: float
    height: float = 2.0
    names: tuple[str, ...] = field(default=(), repr=False)
    place: int = field(default=0, compare=False)


class Measured(Sized, eq=False, repr=False):
    depth: float = 1.0


def test_signatures_hashes_and_refusals_are_those_of_a_dataclass() -> None:
    for one, other in ((Sized, SizedPlainly), (Place, Plain)):
        assert str(signature(one)) == str(signature(other))
    value, plain = Sized(width=1.5, names=("a",)), SizedPlainly(width=1.5, names=("a",))
    assert hash(value) == hash(plain) == hash(Sized(width=1.5, names=("a",)))
    assert repr(value) == repr(plain).replace("SizedPlainly", "Sized")
    assert {value: 1}[replace(value, place=7)] == 1
    for call in (lambda: Sized(1.5), lambda: Sized(width=1, depth=2), lambda: Place(1, 2, [], 4)):  # type: ignore[call-arg]
        with pytest.raises(TypeError, match=r"__init__\(\)"):
            call()
    with pytest.raises(ValueError, match="-1"):
        Sized(width=-1)
    with pytest.raises(TypeError, match="unhashable"):
        hash(Place(1))
    with pytest.raises(FrozenInstanceError):
        del value.width
    deep = Measured(width=1)
    assert (deep.depth, deep.height, repr(deep)) == (1.0, 2.0, repr(deep))
    assert deep == Measured(width=1)  # as the class above says what is equal
    assert Place(1).names is not Place(1).names


def test_a_copy_is_equal() -> None:
    value = Named(3, names=["a"], name="x")
    packed = pickle.dumps(value)
    assert [copy.copy(value), copy.deepcopy(value)] == [value] * 2
    assert pickle.loads(packed) == value  # noqa: S301 - packed here


def test_what_comes_out_of_a_pickle_in_another_process_can_be_compared_and_is_frozen() -> None:
    code = (
        "import pickle, sys\nfrom dataclasses import replace\n"
        "one, other = (pickle.loads(bytes.fromhex(sys.argv[1])) for _ in range(2))\n"
        "assert one == other and hash(one) == hash(other) and replace(one, start=3).start == 3\n"
        "try: one.start = 4\nexcept AttributeError: print('frozen')"
    )
    packed = pickle.dumps(yuzen.errors.Span(1, 2)).hex()
    done = subprocess.run(
        [sys.executable, "-c", code, packed], capture_output=True, text=True, check=True
    )
    assert done.stdout == "frozen\n"


def test_threads_that_make_the_first_ones_at_once_all_get_whole_ones() -> None:
    for _ in range(50):

        class Base(Value):
            row: int

        class Sub(Base):
            name: str

        def made(place: int, kind: type[Sub] = Sub, base: type[Base] = Base) -> bool:
            base(place)
            return kind(place, "x") == kind(place, "x")

        with ThreadPoolExecutor(8) as pool:
            assert all(pool.map(made, range(16)))


def test_every_value_of_ours_can_be_completed() -> None:
    for module in walk_packages([str(Path(yuzen.__file__).parent)], "yuzen."):
        if module.name not in EXTRAS:
            import_module(module.name)
    classes, found = [Value], []
    while classes:
        classes += (kinds := classes.pop().__subclasses__())
        found += kinds
    assert len(found) > 400
    for one in found:
        assert is_dataclass(one)
        own = vars(one).get("__init__")
        assert own is None or list(signature(one).parameters) == list(signature(own).parameters)[1:]
