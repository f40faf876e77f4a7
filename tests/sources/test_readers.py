"""Files of text by every reader: the same columns, the same guesses and the same messages."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from pathlib import Path
from typing import Any

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

import yuzen as yz
from tests.support.sampling import examples
from yuzen.sources.cells import cell_list
from yuzen.sources.inputs import source_of
from yuzen.sources.rows import Rows
from yuzen.sources.text import arrow_text, short_text
from yuzen.sources.text.long_text import LongText
from yuzen.sources.wanted import Wanted

PLAIN = st.sampled_from(
    ["1", "-2", "+3", "0.5", ".5", "5.", "1e3", " 7", "8 ", "12345678901234567", "inf", "-Infinity"]
)
WRITTEN = st.sampled_from(
    [
        "1,234",
        "1.234",
        "1.234,5",
        "1 234",
        "(7)",
        "12 kg",
        "11%",
        "n/a",
        "NA",
        "nan",
        "-",
        "2026-01",
        "31.12.2025",
    ]
)
WORDS = st.sampled_from(
    [
        "Ash",
        " Ash",
        "a  b",
        "True",
        "false",
        "TRUE",
        'qu"ote',
        "two\nlines",
        "0x1A",
        "1_000",
        "007",
        "ä",
    ]
)
DIGITS = st.decimals(-(10**6), 10**6, places=3, allow_nan=False).map(str)
LONG = st.floats(allow_nan=False, allow_infinity=False).map(repr)


@st.composite
def tables(draw: st.DrawFn) -> list[list[str]]:
    """Rows of cells, each column mostly of one kind, some cells empty."""
    kinds = draw(
        st.lists(
            st.sampled_from(
                [PLAIN, WRITTEN, WORDS, DIGITS, LONG, st.sampled_from(["true", "False"])]
            ),
            min_size=2,
            max_size=4,
        )
    )
    holes = draw(st.booleans())
    cell = [st.one_of(kind, kind, st.just("")) if holes else kind for kind in kinds]
    return draw(st.lists(st.tuples(*cell).map(list), min_size=1, max_size=12))


def outcome(path: Path, wanted: Wanted) -> Any:
    """What reading gives: types and cells of the columns, and what is told; or the message."""
    try:
        rows: Rows = source_of(path).rows(wanted)
    except yz.YuzenError as error:
        return str(error)
    columns = {
        name: (str(getattr(column, "dtype", "words")), list(map(repr, cell_list(column))))
        for name, column in rows.columns.items()
    }
    return columns, list(map(str, rows.remarks))


# The most bytes that Python's reader takes, and whether PyArrow is there: Python, PyArrow, pandas.
READERS = ((10**9, True), (0, True), (0, False))


def by(
    readers: Iterable[tuple[int, bool]], path: Path, wanted: Wanted, monkeypatch: pytest.MonkeyPatch
) -> list[Any]:
    """The outcome by each of some readers."""
    found = []
    for most, installed in readers:
        monkeypatch.setattr(short_text, "MAX_SHORT_BYTES", most)
        monkeypatch.setattr(arrow_text, "is_installed", lambda _, installed=installed: installed)
        found.append(outcome(path, wanted))
    return found


@given(
    tables(),
    st.sampled_from(",;\t|"),
    st.sampled_from(["\n", "\r\n"]),
    st.sampled_from(["", "\n"]),
    st.sets(st.integers(0, 3)),
    st.sets(st.integers(0, 3)),
)
@example([["1", "Ash"], ["", ""]], ",", "\n", "\n", {0}, set())
@settings(max_examples=examples(200))
def test_every_reader_gives_the_same(
    tmp_path_factory: pytest.TempPathFactory,
    rows: list[list[str]],
    delimiter: str,
    ending: str,
    last: str,
    numbers: set[int],
    counted: set[int],
) -> None:
    names = [f"c{place}" for place in range(len(rows[0]))]
    text = io.StringIO()
    csv.writer(text, delimiter=delimiter, lineterminator=ending).writerows([names, *rows])
    path = tmp_path_factory.getbasetemp() / "rows.csv"
    path.write_bytes((text.getvalue().removesuffix(ending) + last).encode())
    asked = [
        frozenset(name for i, name in enumerate(names) if i in which)
        for which in (numbers, counted - numbers)
    ]
    with pytest.MonkeyPatch.context() as patch:
        short, arrow, long = by(READERS, path, Wanted(tuple(names), *asked), patch)
    assert short == arrow == long


TORN = [
    b'a,b\n1,2\n"3,4\n5,6\n',
    b"a,b\n1,2,3\n4,5\n",
    b"a,b\n1\n2,3\n",
    b"a,b\n\n   \n1,2\n,\n\n",
    b'a,b\n1,"x"y\n2,x"y"\n',
    b'a,b\n1,"two\nlines"\n2,"""q"""\n',
    b"a,b\r1,2\r3,4\r",
    b"prose\n\na,b\n1,2\n3,4\n5,6\n",
    b"a,b\n",
    b"a\n1\n\n2\n",
    "a,b\nKr\xe4he,2\n".encode("cp1252"),
    "a,b\nKr\xe4he,2\n".encode("utf-16"),
    b"a,b\nx," + b"9" * 60 + b"\ny,3\n",
    b"a,b\n" + b"x" * 150_000 + b",1\ny,2\n",
    b"a,b\nx,1\ny,0x1F\n",
    b"a,b\nx,1.5\ny,nan\n",
    b"a,b\n9999999999999999999999,1\nAsh,2\n,3\n",
    b"a,b\n" + b"x,1.5\n" * 150 + b"y,9999999999999999999999\n",
    b"a,b\n" + b"x,1\n" * 150 + b"y,2.5\nz,0x1F\n",
    b"a,b\n" + b"x,1.5\n" * 150 + b"y,nan\n",
    b"a,b\nx,1.5\ny,1e999\n",
    b"a,b\nx,1\ny,9223372036854775808\n",
    b"a,b\nx,1\n" * 200 + b"y,9223372036854775807\n",
    b"a,b\nx,1\ny,+2\nz, 3\nw,4 \nv,\t5\nu,\x0c6\n",
    b"a,b\nx,1\ny, \nz,3\n",
    b"a,b\nx,1\r\ny,2\rz,3\n",
    b"a,b\n" + b"x,1\n" * 60_000 + b"y\0,2\n",
    b"a,b\nx,1\n\n   \n\t\ny,2\n",
    b"\xef\xbb\xbfa,b\nx,1\ny,2\n",
    b" a ,b\n x ,1\nx,2\n",
    b"a,\nx,1\ny,2\n",
    "a,b\nKr\xe4he,1\n\u2028,2\n".encode(),
    b"a,b\nx,1\n" * 30_000 + "Kr\xe4he,2\n".encode("cp1252"),
]


@pytest.mark.parametrize("data", TORN)
def test_every_reader_tells_the_same_of_odd_files(
    data: bytes, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "rows.csv"
    path.write_bytes(data)
    column_names = source_of(path).column_names
    for numbers in (frozenset[str](), frozenset(column_names[1:])):
        short, arrow, long = by(READERS, path, Wanted(column_names, numbers), monkeypatch)
        assert short == arrow == long


def cut_at_a_megabyte(left: bytes, right: bytes) -> bytes:
    """A file whose rows below the heading are read in two, after `left`, which has four bytes."""
    return b"a,b\n" + b"x,1\n" * (2**18 - 1) + left + right + b"x,1\n"


@pytest.mark.parametrize(
    ("left", "right"),
    [
        (b"yy,0", b"x1F\n"),
        (b"yy,0", b"X1F\n"),
        (b"yy,2", b"x1F\n"),
        (b"y,2\r", b"\nz,3\n"),
        (b"y,2\r", b"z,3\n"),
        (b"yyy\xc3", b"\xa4,3\n"),
        (b"yyy\xc3", b"\xc3,3\n"),
        (b"yy,7", b"8\n"),
    ],
)
def test_what_is_cut_where_a_megabyte_ends_is_read_alike(
    left: bytes, right: bytes, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "rows.csv"
    path.write_bytes(cut_at_a_megabyte(left, right))
    arrow, long = by(READERS[1:], path, Wanted(("a", "b"), frozenset("b")), monkeypatch)
    assert arrow == long


def test_letters_of_columns_that_nobody_wants_tell_the_encoding(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "rows.csv"
    path.write_bytes(("a,b,c\n" + "x,1,\n" * 60_000 + "y,2,Kr\xe4he\n").encode("cp1252"))
    arrow, long = by(READERS[1:], path, Wanted(("a", "b"), frozenset("b")), monkeypatch)
    assert arrow == long
    assert "cp1252" in str(long)


PLAINLY = [
    (b"a,b\nx,1\ny,\nx,3\n", {"b"}),
    (b"a,b\r\n Ash ,1.5\r\nKr\xc3\xa4he,-2e3\r\n", {"b"}),
    (b"prose\n\na;b;c\n1;x;007\n2;y;1.0\n3;z;7\n", {"a"}),
    (b"\xef\xbb\xbfa\tb\nExeter\t10\n\t20\n", {"b"}),
]


@pytest.mark.parametrize(("data", "numbers"), PLAINLY)
def test_plain_files_are_read_by_pyarrow(
    data: bytes, numbers: set[str], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Without this, what the others compare with pandas may be pandas."""
    path = tmp_path / "rows.csv"
    path.write_bytes(data)
    wanted = Wanted(source_of(path).column_names, frozenset(numbers))
    short, arrow, long = by(READERS, path, wanted, monkeypatch)
    assert short == arrow == long
    monkeypatch.setattr(arrow_text, "is_installed", lambda _: True)
    monkeypatch.setattr(LongText, "read", None)
    assert outcome(path, wanted) == arrow


ODD = [
    *('"', "'", "\\", "\r", "\n", "\r\n", "\n\n", " ", "  \n", "\n \n", "\t", ",", ";", "\0"),
    *("\x0b", "\x0c", "\x1a", "\x1c", "\x85", "ä", "\u2028", "\xa0", "\ufeff", "−5", "٣", "€"),
    *("0x1", "0X", "nan", "NaN", "inf", "-inf", "-", "+", "e", "E5", ".", "_", "#", "%", "True"),
    *("NA", "null", "1e400", "1e-400", "9" * 19, "9" * 20, "-0", "00", "1.", "(5)", "1,000"),
]


@pytest.mark.sampled(6)
@pytest.mark.parametrize("odd", ODD)
def test_something_odd_below_many_plain_lines_is_read_alike(
    odd: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The first lines show cells of one kind, so that only what comes later leaves a doubt."""
    path = tmp_path / "rows.csv"
    plain = "Ash,7,-0.25,\nElm,,1.5,x\n"
    for last in (f"{odd},1,2,3\n", f"Oak,{odd},2,3\n", f"Oak,1{odd},2{odd},3\n", f"{odd}Oak,1,,\n"):
        path.write_bytes(("a,b,c,d\n" + plain * 100 + last + plain).encode())
        for numbers in ({"b", "c"}, {"b", "c", "d"}, {"c"}):
            wanted = Wanted(("a", "b", "c", "d"), frozenset(numbers))
            arrow, long = by(READERS[1:], path, wanted, monkeypatch)
            assert arrow == long
