"""Trees: what the parser makes of queries, expressions, tables and code."""

from typing import TypeVar

import pytest

from hullsound.sql.dialect import load_dialect
from hullsound.sql.script import ReadStatement, read_script
from hullsound.sql.tree import (
    AlterTable,
    Bind,
    Block,
    Call,
    Case,
    Clause,
    Comparison,
    CreateIndex,
    CreatePackage,
    CreateRoutine,
    CreateSequence,
    CreateTable,
    CreateTrigger,
    CreateView,
    CursorAttribute,
    DerivedTable,
    ExecuteImmediate,
    Grant,
    If,
    Insert,
    Join,
    Literal,
    Loop,
    Member,
    Merge,
    Name,
    Node,
    Operation,
    OuterMark,
    Query,
    Routine,
    Select,
    Subquery,
    TableRef,
    TypeName,
    Update,
    Variable,
    Window,
)

N = TypeVar("N", bound=Node)


def read(text: str) -> ReadStatement:
    (statement,) = read_script(text + "\n/\n", load_dialect("oracle"), {}).statements()
    assert statement.is_complete
    assert not statement.unread(), [u.reason for u in statement.unread()]
    return statement


def first(text: str, kind: type[N]) -> N:
    return read(text).all(kind)[0]


def last(text: str, kind: type[N]) -> N:
    return read(text).all(kind)[-1]


def source(statement: ReadStatement, node: Node) -> str:
    return statement.tokens.source(node.first, node.last)


# --- expressions ---


@pytest.mark.parametrize(
    ("expression", "outermost", "operators"),
    [
        ("a + b * c", "a + b * c", ["+"]),
        ("a || b || c", "a || b || c", ["||", "||"]),
        ("a - b + c", "a - b + c", ["-", "+"]),
        ("a = b AND c = d OR e = f", "a = b AND c = d OR e = f", ["OR"]),
        ("NOT a = b AND c = d", "NOT a = b AND c = d", ["AND"]),
        ("-a ** 2", "-a ** 2", ["**"]),
        ("a * -b", "a * -b", ["*"]),
    ],
)
def test_precedence(expression: str, outermost: str, operators: list[str]) -> None:
    statement = read(f"SELECT 1 FROM t WHERE {expression}")
    where = statement.all(Select)[0].where
    assert isinstance(where, Operation)
    assert source(statement, where) == outermost
    assert where.operators == operators


@pytest.mark.parametrize(
    ("condition", "operator", "negated", "operands"),
    [
        ("a BETWEEN 1 AND 2", "BETWEEN", False, 3),
        ("a NOT BETWEEN 1 AND 2", "BETWEEN", True, 3),
        ("a LIKE 'x' ESCAPE '!'", "LIKE", False, 3),
        ("a NOT IN (1, 2)", "IN", True, 2),
        ("a IS NOT NULL", "IS NULL", True, 1),
        ("a MEMBER OF b", "MEMBER OF", False, 2),
    ],
)
def test_comparisons(condition: str, operator: str, negated: bool, operands: int) -> None:
    node = first(f"SELECT 1 FROM t WHERE {condition}", Comparison)
    assert (node.operator, node.negated, len(node.operands)) == (operator, negated, operands)


def test_between_keeps_its_and() -> None:
    where = first("SELECT 1 FROM t WHERE a BETWEEN 1 AND 2 AND b = 3", Select).where
    assert isinstance(where, Operation)
    assert where.operators == ["AND"]
    assert len(where.operands) == 2


def test_calls_know_their_arguments_and_tails() -> None:
    call = first("SELECT LISTAGG(DISTINCT a, ',') WITHIN GROUP (ORDER BY b) OVER (PARTITION BY c) FROM t", Call)
    assert (call.parts, call.quantifier, len(call.arguments), call.modified) == (("LISTAGG",), "DISTINCT", 2, True)
    assert isinstance(call.over, Window)


def test_names_fold_unless_quoted() -> None:
    names = [n.parts for n in read('SELECT a.B, "c".D, e FROM t').all(Name)]
    assert names == [("A", "B"), ("c", "D"), ("E",)]


def test_marks_binds_attributes_and_members() -> None:
    assert first("SELECT 1 FROM a, b WHERE a.x = b.y (+)", OuterMark).name.parts == ("B", "Y")
    assert first("SELECT :x.y FROM t", Bind).parts == ("X", "Y")
    assert first("BEGIN IF c%NOTFOUND THEN NULL; END IF; END;", CursorAttribute).attribute == "NOTFOUND"
    assert first("SELECT f(a).b FROM t", Member).parts == ("B",)


def test_case_and_literals() -> None:
    case = first("SELECT CASE a WHEN 1 THEN 'x' WHEN 2 THEN 'y' ELSE NULL END FROM t", Case)
    assert case.subject is not None
    assert len(case.branches) == 2
    assert isinstance(case.otherwise, Literal)
    assert case.otherwise.form == "null"


# --- queries ---


def test_a_query_block_keeps_its_parts() -> None:
    select = first(
        "SELECT a x, b FROM t WHERE c = 1 START WITH d = 1 CONNECT BY PRIOR d = e GROUP BY a HAVING COUNT(*) > 1",
        Select,
    )
    assert [item.alias for item in select.items] == ["X", ""]
    assert select.where is not None
    assert select.start_with is not None
    assert select.connect_by is not None
    assert select.having is not None
    assert len(select.group) == 1


def test_set_operators_and_common_tables() -> None:
    query = last(
        "WITH x AS (SELECT 1 FROM dual) SELECT a FROM t UNION ALL SELECT b FROM u MINUS SELECT c FROM v ORDER BY 1",
        Query,
    )
    assert [operator for operator, _ in query.operators] == ["UNION ALL", "MINUS"]
    assert [table.name for table in query.common] == ["X"]
    assert len(query.order) == 1


def test_sources() -> None:
    statement = read(
        "SELECT 1 FROM a x, b@l LEFT JOIN c ON b.i = c.i, (SELECT 1 FROM dual) d, LATERAL (SELECT 2 FROM dual) e"
    )
    assert [(t.parts, t.alias, t.link) for t in statement.all(TableRef)][:2] == [(("A",), "X", ""), (("B",), "", "L")]
    assert statement.all(Join)[0].kind == "LEFT JOIN"
    assert [(d.alias, d.lateral) for d in statement.all(DerivedTable)] == [("D", False), ("E", True)]


@pytest.mark.parametrize(
    "word", ["offset", "fetch", "limit", "loop", "log", "model", "sample", "first", "key", "value", "type", "day"]
)
def test_words_that_are_no_keywords_may_name_columns(word: str) -> None:
    assert first(f"SELECT t.{word} FROM t WHERE t.{word} = 1", Name).parts == ("T", word.upper())


def test_changes() -> None:
    insert = first("INSERT INTO t (a, b) SELECT x, y FROM u", Insert)
    assert [c.parts for c in insert.columns] == [("A",), ("B",)]
    assert insert.query is not None
    update = first("UPDATE t SET a = 1, (b, c) = (SELECT 1, 2 FROM dual) WHERE d = 1 RETURNING a INTO :x", Update)
    assert (len(update.assignments), len(update.returning), len(update.into)) == (2, 1, 1)
    merge = first(
        "MERGE INTO t USING u ON (t.i = u.i) WHEN MATCHED THEN UPDATE SET a = 1 WHEN NOT MATCHED THEN INSERT (b) VALUES (2)",
        Merge,
    )
    assert (len(merge.assignments), len(merge.columns)) == (1, 1)
    assert first("SELECT 1 FROM t WHERE a IN (SELECT b FROM u)", Subquery).form == ""


# --- definitions ---


def test_columns_and_constraints() -> None:
    table = first(
        "CREATE TABLE s.t (a NUMBER(10,2) DEFAULT 1 NOT NULL, b VARCHAR2(5 CHAR) UNIQUE, c DATE, d AS (a * 2), "
        "CONSTRAINT pk PRIMARY KEY (a), FOREIGN KEY (b) REFERENCES u (x) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED)",
        CreateTable,
    )
    assert table.name == ("S", "T")
    assert [(c.name, c.nullable) for c in table.columns] == [("A", False), ("B", True), ("C", True), ("D", True)]
    types = [(c.type.name, c.type.arguments, c.type.unit) for c in table.columns if c.type]
    assert types == [("NUMBER", ("10", "2"), ""), ("VARCHAR2", ("5",), "CHAR"), ("DATE", (), "")]
    assert table.columns[3].generated is not None
    key, foreign = table.constraints
    assert (key.name, key.form, key.columns) == ("PK", "primary key", ["A"])
    assert (foreign.references, foreign.reference_columns, foreign.on_delete) == (("U",), ["X"], "cascade")
    assert foreign.deferrable == "initially deferred"


@pytest.mark.parametrize(
    ("text", "name"),
    [
        ("TIMESTAMP(3) WITH LOCAL TIME ZONE", "TIMESTAMP WITH LOCAL TIME ZONE"),
        ("INTERVAL YEAR(2) TO MONTH", "INTERVAL YEAR TO MONTH"),
        ("INTERVAL DAY TO SECOND(6)", "INTERVAL DAY TO SECOND"),
        ("LONG RAW", "LONG RAW"),
        ("DOUBLE PRECISION", "DOUBLE PRECISION"),
        ("NATIONAL CHARACTER VARYING(10)", "NATIONAL CHARACTER VARYING"),
        ("mdsys.sdo_geometry", "MDSYS.SDO_GEOMETRY"),
    ],
)
def test_type_names(text: str, name: str) -> None:
    assert first(f"CREATE TABLE t (a {text})", TypeName).name == name


def test_alter_table_takes_several_actions() -> None:
    alter = first(
        "ALTER TABLE t ADD (a NUMBER, CONSTRAINT c CHECK (a > 0)) MODIFY (b NOT NULL) DROP COLUMN d", AlterTable
    )
    assert [c.name for c in alter.columns] == ["A"]
    assert [c.form for c in alter.constraints] == ["check"]
    assert [c.name for c in alter.modified] == ["B"]
    assert alter.actions == ["drop column d"]


def test_other_definitions() -> None:
    index = first("CREATE UNIQUE INDEX i ON t (UPPER(a), b DESC) TABLESPACE x LOCAL", CreateIndex)
    assert (index.unique, [k.descending for k in index.keys]) == (True, [False, True])
    assert index.clauses == {"tablespace", "local-index"}
    view = first(
        "CREATE MATERIALIZED VIEW v REFRESH FAST ON COMMIT ENABLE QUERY REWRITE AS SELECT 1 a FROM dual", CreateView
    )
    assert view.materialized
    assert {"refresh-fast", "refresh-on-commit", "query-rewrite"} <= view.clauses
    sequence = first("CREATE SEQUENCE s START WITH 5 INCREMENT BY -2 NOCACHE CYCLE", CreateSequence)
    assert sequence.options == {"start": "5", "increment": "-2", "nocache": "", "cycle": ""}
    grant = first("GRANT SELECT, UPDATE (a, b) ON s.t TO x, y WITH GRANT OPTION", Grant)
    assert (grant.privileges, grant.object, grant.grantees) == (["SELECT", "UPDATE"], ("S", "T"), ["X", "Y"])


# --- code ---


def test_a_routine_keeps_its_shape() -> None:
    routine = first(
        "CREATE FUNCTION s.f (a IN NUMBER := 1, b OUT NOCOPY t.c%TYPE) RETURN VARCHAR2 DETERMINISTIC IS\n"
        "  v CONSTANT NUMBER := 2;\nBEGIN\n  RETURN 'x';\nEXCEPTION WHEN NO_DATA_FOUND OR OTHERS THEN RAISE;\nEND f;",
        CreateRoutine,
    ).routine
    assert (routine.form, routine.name, routine.options) == ("function", ("S", "F"), ["DETERMINISTIC"])
    assert [(p.name, p.mode, p.nocopy) for p in routine.parameters] == [("A", "in", False), ("B", "out", True)]
    assert routine.parameters[1].type.borrowed == "TYPE"
    assert routine.block is not None
    assert isinstance(routine.block.declarations[0], Variable)
    assert routine.block.handlers[0].exceptions == [("NO_DATA_FOUND",), ("OTHERS",)]


@pytest.mark.parametrize(
    ("header", "form", "reverse"),
    [
        ("LOOP", "basic", False),
        ("WHILE a > 1 LOOP", "while", False),
        ("FOR i IN REVERSE 1..10 LOOP", "range", True),
        ("FOR r IN (SELECT 1 a FROM dual) LOOP", "query", False),
        ("FOR r IN c(1, 2) LOOP", "cursor", False),
    ],
)
def test_loops(header: str, form: str, reverse: bool) -> None:
    loop = first(f"BEGIN {header} EXIT; END LOOP; END;", Loop)
    assert (loop.form, loop.reverse) == (form, reverse)


def test_branches_dynamic_sql_and_nested_blocks() -> None:
    statement = read(
        "BEGIN IF a THEN NULL; ELSIF b THEN NULL; ELSE NULL; END IF; "
        "EXECUTE IMMEDIATE 'x' INTO v, w USING IN a, OUT b; BEGIN NULL; END; END;"
    )
    assert len(statement.all(If)[0].branches) == 2
    dynamic = statement.all(ExecuteImmediate)[0]
    assert (len(dynamic.into), len(dynamic.using)) == (2, 2)
    assert len(statement.all(Block)) == 2


def test_packages_and_triggers() -> None:
    package = first(
        "CREATE PACKAGE BODY s.p IS v NUMBER; PROCEDURE a IS BEGIN NULL; END; BEGIN v := 1; END;", CreatePackage
    )
    assert (package.is_body, len(package.declarations), package.initialization is not None) == (True, 2, True)
    trigger = first(
        "CREATE TRIGGER g AFTER UPDATE OF a, b OR DELETE ON s.t REFERENCING NEW AS n FOR EACH ROW WHEN (n.a > 1) BEGIN NULL; END;",
        CreateTrigger,
    )
    assert (trigger.timing, trigger.events, trigger.update_columns) == ("after", ["update", "delete"], ["A", "B"])
    assert (trigger.table, trigger.level, trigger.referencing) == (("S", "T"), "row", {"N": "NEW"})
    assert trigger.condition is not None


def test_every_node_has_a_span_inside_its_statement() -> None:
    statement = read(
        "CREATE PROCEDURE p IS BEGIN FOR r IN (SELECT NVL(a, 0) x FROM t WHERE b = 1) LOOP q(r.x); END LOOP; END;"
    )
    assert statement.nodes
    for node in statement.nodes:
        assert statement.first <= node.first <= node.last <= statement.last
    assert {type(n) for n in statement.nodes} >= {Routine, Loop, Select, Call, Name}
    assert not statement.all(Clause)
