"""NaN in DuckDB, which holds it for larger than everything; here it is missing."""


def without_nan(column: str, number: str = "") -> str:
    """The SQL of a column in which NaN is missing.

    number: the column as a number of double precision, where it is not one.
    """
    number = number or column
    # `isnan` is answered from the bounds that Parquet files give, which leave NaN out.
    is_nan = f"not isfinite({number}) and not isinf({number})"
    return f"case when {is_nan} then null else {column} end"
