"""The lexer: any text round-trips, takes linear time, and never raises."""

import time

import pytest
from hypothesis import given
from hypothesis import strategies as st

from hullsound.sql.dialect import load_dialect
from hullsound.sql.lexer import BIND, END, NUMBER, QUOTED, STRING, SYMBOL, WORD, lex

ORACLE = load_dialect("oracle")
SQL_LIKE = st.text(alphabet=st.sampled_from("aSé_$1.0 \n\r\t'\"-/*(+)q[]{}!&:;=<>|%@#\0ßŉ"), max_size=120)


def kinds(text: str) -> list[tuple[str, int]]:
    tokens = lex(text, ORACLE)
    return [(tokens.source(i, i + 1), tokens.kinds[i]) for i in range(len(tokens.words) - 1)]


@given(st.one_of(st.text(max_size=200), SQL_LIKE))
def test_any_text_round_trips(text: str) -> None:
    """Tokens stand in order, do not overlap, and only white space and comments lie between them."""
    tokens = lex(text, ORACLE)
    at = 0
    for i in range(len(tokens.words)):
        gap = text[at : tokens.starts[i]]
        assert tokens.starts[i] >= at
        while gap:
            if gap.startswith("--"):
                gap = gap.partition("\n")[2]
            elif gap.startswith("/*"):
                assert "*/" in gap[2:]
                gap = gap[2:].partition("*/")[2]
            else:
                assert (
                    gap[0] <= " "
                    or gap[0] in "\x7f\x85\xa0\u2028\u2029\u202f\u3000\ufeff"
                    or "\u2000" <= gap[0] <= "\u200b"
                )
                gap = gap[1:]
        at = tokens.ends[i]
    assert tokens.kinds[-1] == END


def test_words_literals_and_symbols() -> None:
    assert kinds("a$1 \"B c\" 'it''s' q'[x]y]' N'n' 1.5e-3 .5 1..2 :NEW (+) || ^= &v.x") == [
        ("a$1", WORD), ('"B c"', QUOTED), ("'it''s'", STRING), ("q'[x]y]'", STRING), ("N'n'", STRING), ("1.5e-3", NUMBER),
        (".5", NUMBER), ("1", NUMBER), ("..", SYMBOL), ("2", NUMBER), (":NEW", BIND), ("(+)", SYMBOL), ("||", SYMBOL),
        ("^=", SYMBOL), ("&v.x", WORD),
    ]  # fmt: skip


def test_what_never_ends_is_no_literal_and_no_comment() -> None:
    assert kinds("a 'never") == [("a", WORD), ("'never", SYMBOL)]
    assert kinds("a /* never") == [("a", WORD), ("/* never", SYMBOL)]


def test_letters_that_grow_in_upper_case_keep_their_offsets() -> None:
    tokens = lex("straße ŉ x", ORACLE)
    assert [tokens.source(i, i + 1) for i in range(3)] == ["straße", "ŉ", "x"]


@pytest.mark.parametrize("piece", ["'", '"', "/*", "--", "q'[", "(", "&", "1", "a.", "/* */", "''", ":"])
def test_hostile_repetition_takes_linear_time(piece: str) -> None:
    """Twenty times the text takes far less than four hundred times as long."""

    def seconds(count: int) -> float:
        started = time.perf_counter()
        lex(piece * count, ORACLE)
        return time.perf_counter() - started

    small = min(seconds(5_000) for _ in range(3))
    large = min(seconds(100_000) for _ in range(3))
    assert large < 120 * max(small, 0.0005)
