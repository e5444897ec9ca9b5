"""Functions of XML and JSON: words of their own between the arguments, and columns that are called like such words."""

import pytest

from hullsound.sql.dialect import load_dialect
from hullsound.sql.script import read_script
from hullsound.sql.tree import Call


@pytest.mark.parametrize(
    ("engine", "call", "arguments"),
    [
        ("mysql", "JSON_OBJECT('id', id, 'name', name)", ["'id'", "id", "'name'", "name"]),
        ("mysql", "JSON_OBJECT('name', t.name, 'key', value)", ["'name'", "t.name", "'key'", "value"]),
        ("oracle", "JSON_OBJECT(KEY 'name' VALUE name NULL ON NULL)", ["'name'", "name"]),
        ("oracle", "JSON_ARRAY(name, NULL, size ABSENT ON NULL)", ["name", "NULL", "size"]),
        ("oracle", 'XMLFOREST(name, path AS "p")', ["name", "path"]),
        ("oracle", "XMLSERIALIZE(CONTENT name AS CLOB)", ["name"]),
        ("oracle", 'XMLELEMENT(NAME "a", content)', ['"a"', "content"]),
    ],
)
def test_columns_called_like_words_are_arguments(engine: str, call: str, arguments: list[str]) -> None:
    read = next(read_script(f"SELECT {call} AS x FROM t;", load_dialect(engine)).statements())
    (node,) = read.all(Call)
    assert [read.tokens.source(each.first, each.last) for each in node.arguments] == arguments
    assert not read.unread()
