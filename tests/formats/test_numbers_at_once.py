from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from yuzen.formats.locales import PLAIN_LOCALE, Locale
from yuzen.formats.number_format import Form, NumberFormat

forms = st.builds(
    Form,
    st.sampled_from(["", "arrow", "sign", "paren"]),
    st.sampled_from(["", ",.0f", ",.2f", ".1%", ".0f"]),
    st.sampled_from(["", "k", "M"]),
    st.sampled_from([0, 3]),
)


@given(
    forms,
    st.sampled_from(["", "€", "about "]),
    st.sampled_from(["", " m"]),
    st.sampled_from([PLAIN_LOCALE, Locale(",", ".")]),
    st.lists(st.floats() | st.sampled_from([0.0, -0.0, -0.4, 0.005, -1e-9, 999.5]), max_size=20),
)
def test_many_numbers_are_written_as_each_is(
    form: Form, before: str, after: str, locale: Locale, values: list[float]
) -> None:
    number = NumberFormat(form, before, after, locale)
    assert number.write_all(values) == [number.write(value) for value in values]
