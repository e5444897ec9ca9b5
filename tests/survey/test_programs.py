"""Programs: labelled places of SQL in a dozen languages, texts put together, settings, and what they do with a database."""

import json
import re
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from typer.testing import CliRunner

from hullsound import steps
from hullsound.catalog.hullfile import read_hull
from hullsound.catalog.model import ObjectType
from hullsound.cli.app import app
from hullsound.demo import scripts_of
from hullsound.errors import SourceError
from hullsound.survey.programs.languages import GRAMMARS
from hullsound.survey.programs.scripts import EMBEDDED, SHELL, Program, as_script, find_sql, read_programs
from hullsound.survey.programs.settings import find_settings, load_program_settings

LABELLED = Path(__file__).parents[1] / "data" / "programs"
PROGRAMS = Path(str(scripts_of("oracle"))).parent / "programs"
LABEL = re.compile(r"(?://|#|/\*|<!--|--|      \*|')\s*(\^*)\s*(sql-above|sql-below|sql|spliced)\b\s*(\d*)")


def labels(text: str) -> set[int]:
    """Return the lines on which a text of SQL begins, as the comments of a program say."""
    lines = set()
    for number, line in enumerate(text.split("\n"), start=1):
        label = LABEL.search(line)
        if label is not None:
            shift = {"sql-above": -int(label[3] or 0), "sql-below": int(label[3] or 0)}.get(label[2], -len(label[1]))
            lines.add(number + shift)
    return lines


def read(text: str, suffix: str, engine: str = "oracle") -> Program:
    found = find_sql(text, suffix)
    assert found is not None
    return as_script(f"a{suffix}", found, engine)


def words(program: Program) -> str:
    return " ".join(" ".join(script.text for script in program.scripts).split())


@pytest.mark.parametrize("path", sorted(p for p in LABELLED.iterdir() if p.suffix != ".md"), ids=lambda p: p.name)
def test_sql_is_found_where_a_person_sees_it_and_nowhere_else(path: Path) -> None:
    text = path.read_text(encoding="utf-8")
    found = find_sql(text, path.suffix)
    assert found is not None
    assert {each.line for each in found} == labels(text)


@pytest.mark.parametrize("path", sorted(p for p in LABELLED.iterdir() if p.suffix != ".md"), ids=lambda p: p.name)
def test_text_of_a_script_stands_at_the_line_and_column_of_the_program(path: Path) -> None:
    text = path.read_text(encoding="utf-8")
    lines = text.split("\n")
    found = find_sql(text, path.suffix)
    assert found is not None
    scripts = [script.text.split("\n") for script in as_script(path.name, found, "oracle").scripts]
    for each in found:
        first = each.pieces[0]
        word = re.match(r"\w+", first.text)
        if word is not None and word[0] in lines[first.line - 1]:
            column = lines[first.line - 1].find(word[0], first.column - 1)
            assert any(len(s) >= first.line and s[first.line - 1].startswith(word[0], column) for s in scripts), word[0]


@pytest.mark.parametrize(
    ("suffix", "text", "sql"),
    [
        (".java", 'class A { String s = "SELECT a " + "FROM t " + "WHERE b = ?"; }', "SELECT a FROM t WHERE b = :b"),
        (".java", 'class A { void f() { q("SELECT a FROM t WHERE b = #{id}"); } }', "SELECT a FROM t WHERE b = :b"),
        (".cs", 'class A { string s = $"SELECT a FROM t WHERE b = {x}"; }', "SELECT a FROM t WHERE b = :b"),
        (".cs", 'class A { string s = "SELECT a FROM t WHERE b = @p0"; }', "SELECT a FROM t WHERE b = :b"),
        (".py", 'q("SELECT a FROM t WHERE b = %s AND c = %(n)s", 1)', "SELECT a FROM t WHERE b = :b AND c = :b"),
        (".js", "q(`SELECT a FROM t WHERE b = ${x}`)", "SELECT a FROM t WHERE b = :b"),
        (".js", "q('SELECT a FROM t WHERE b = $1')", "SELECT a FROM t WHERE b = :b"),
        (".php", "<?php $s = \"SELECT a FROM t WHERE b = :id\";", "SELECT a FROM t WHERE b = :b"),
        (".go", 'package p\nvar s = `SELECT a FROM t WHERE b = $1`', "SELECT a FROM t WHERE b = :b"),
        (".rb", 'q("SELECT a FROM t WHERE b = ?", 1)', "SELECT a FROM t WHERE b = :b"),
        (".kt", 'val s = "SELECT a FROM t WHERE b = ?"', "SELECT a FROM t WHERE b = :b"),
        (".properties", "q=SELECT a FROM t \\\n  WHERE b = ?", "SELECT a FROM t WHERE b = :b"),
        (".yml", "q: SELECT a FROM t WHERE b = ?", "SELECT a FROM t WHERE b = :b"),
        (".json", '{"q": "SELECT a FROM t WHERE b = ?"}', "SELECT a FROM t WHERE b = :b"),
        (".pc", "EXEC SQL SELECT a INTO :x FROM t WHERE b = :y;", "FROM t WHERE b = :b"),
        (".py", 'q("SELECT \'?\' FROM t WHERE b = ?", 1)', "SELECT '?' FROM t WHERE b = :b"),
        (".java", 'class A { void f() { q("{call p(?, ?)}"); } }', "CALL p(:b, :b)"),
        (".vb", 'Dim s = "SELECT a " & _\n "FROM t WHERE b = :p"', "SELECT a FROM t WHERE b = :b"),
        (".vb", 'Dim s As New StringBuilder()\ns.AppendLine("SELECT a")\ns.Append("FROM t")', "SELECT a FROM t"),
        (".vb", 's = $"SELECT a FROM t WHERE b = {x}"', "SELECT a FROM t WHERE b = :b"),
        (".pl", '$d->do(qq{SELECT a FROM t WHERE b = $x});', "SELECT a FROM t WHERE b = :b"),
        (".pl", 'my $s = "SELECT a"; $s .= \' FROM t\';', "SELECT a FROM t"),
        (".c", '#define GET(p) "SELECT a FROM " #p "_t"\n', "SELECT a FROM spliced_text_t"),
        (".c", 'char *s = "SELECT a " "FROM t";', "SELECT a FROM t"),
        (".cpp", 'void f() { s << "SELECT a " << "FROM t WHERE b = " << x; }', "SELECT a FROM t WHERE b = :b"),
        (".cpp", 'auto s = R"(SELECT a FROM t)";', "SELECT a FROM t"),
        (".sh", '# don\'t\npsql -c "SELECT a FROM t WHERE b = $X"\n', "SELECT a FROM t WHERE b = :b"),
        (".java", 'class A { @Select({"SELECT a", "FROM t"}) void f() {} }', "SELECT a FROM t"),
        (".java", 'class A { String s = String.join(" ", "SELECT a", "FROM t"); }', "SELECT a FROM t"),
        (".py", 's = " ".join(["SELECT a", "FROM t"])', "SELECT a FROM t"),
        (".js", "s = ['SELECT a', 'FROM t'].join(' ')", "SELECT a FROM t"),
        (".rb", "s = ['SELECT a', 'FROM t'].join(' ')", "SELECT a FROM t"),
        (".php", "<?php $s = implode(' ', ['SELECT a', 'FROM t']);", "SELECT a FROM t"),
        (".go", 'package p\nvar s = strings.Join([]string{"SELECT a", "FROM t"}, " ")', "SELECT a FROM t"),
        (".kt", 'val s = listOf("SELECT a", "FROM t").joinToString(" ")', "SELECT a FROM t"),
        (".kt", 'val s = """\n  |SELECT a\n  |FROM t""".trimMargin()', "SELECT a FROM t"),
        (".php", "<?php $h = '<li>' . cell('SELECT a FROM t') . '</li>';", "SELECT a FROM t"),
        (".php", "<?php $s = 'SELECT a FROM t ' . $where . ' ORDER BY a';", "SELECT a FROM t ORDER BY a"),
        (".php", "<?php $s = \"SELECT $hint * FROM t\";", "SELECT * FROM t"),
        (".php", "<?php $s = \"SELECT a FROM t WHERE b = 1 $and c = 2\";", "SELECT a FROM t WHERE b = 1 AND c = 2"),
        (".php", "<?php $s = \"UPDATE `$t` SET a = 1\";", "UPDATE `spliced_text` SET a = 1"),
    ],
)  # fmt: skip
def test_placeholders_of_every_framework_become_binds_of_the_engine(suffix: str, text: str, sql: str) -> None:
    written = re.sub(r"\s+([,)])", r"\1", words(read(text, suffix)))
    assert sql in written.replace("( ", "(")


@pytest.mark.parametrize(
    ("engine", "bind"),
    [("oracle", ":b"), ("postgresql", "$1"), ("mysql", "?"), ("sqlserver", "@b"), ("db2", "?"), ("sqlite", "?")],
)
def test_binds_are_those_of_the_engine(engine: str, bind: str) -> None:
    written = words(read('q("SELECT a FROM t WHERE b = %s")', ".py", engine))
    assert written.replace(" ;", ";") == f"SELECT a FROM t WHERE b = {bind};"


@pytest.mark.parametrize(
    "text",
    [
        'print("Select a berth from the map")',
        'print("Update of the tariffs begins")',
        'title = "Delete from where?"',
        "# SELECT a FROM t WHERE b = 1",
        '"""SELECT says what is read from here: a = b."""',
        'log("Select a berth from the list (or press Esc)")',
        'log("update %s: set the depth before")',
        'log("delete from %s: %s")',
        'log("delete of " + count + " rows from the view begins")',
        'q("select b from Berth b where b.quay = :quay")',
        'x = "select"',
        'log("insert into the slot until it clicks")',
        'menu = "Create, update or delete"',
        'url = "https://kb.example/select?from=a"',
    ],
)
def test_words_for_people_are_not_sql(text: str) -> None:
    assert find_sql(text, ".py") == []


@pytest.mark.parametrize(
    ("suffix", "text", "what"),
    [
        (".py", 'q(f"SELECT a FROM {table}")', "{table}"),
        (".java", 'class A { void f(String c) { q("SELECT a FROM t ORDER BY " + c); } }', "c"),
        (".cs", 'class A { string s = $"SELECT a FROM t ORDER BY {c}"; }', "{c}"),
        (".xml", '<mapper namespace="a"><select id="b">SELECT a FROM t ORDER BY ${c}</select></mapper>', "${c}"),
        (".php", '<?php $s = "SELECT a FROM t ORDER BY $c";', "$c"),
    ],
)
def test_text_put_in_at_run_time_is_said_with_its_place(suffix: str, text: str, what: str) -> None:
    program = read(text, suffix)
    assert [each.what for each in program.spliced] == [what]
    assert program.spliced[0].line == 1
    assert text[program.spliced[0].column - 1 :].startswith(what[:1])


def test_constants_and_builders_are_followed() -> None:
    text = (PROGRAMS / "portal" / "CallService.java").read_text(encoding="utf-8")
    sql = words(read(text, ".java"))
    assert "SELECT c.call_id, c.eta, c.status, v.name FROM port_calls c JOIN vessels v" in sql
    assert (
        "FROM port_calls c, berths b WHERE c.berth_id = b.berth_id (+) AND c.berth_id IS NOT NULL AND ROWNUM <= 50"
        in sql
    )


@pytest.mark.parametrize("engine", sorted(load_program_settings()))
def test_settings_name_the_engine_and_look_alikes_do_not(engine: str) -> None:
    row = load_program_settings()[engine]
    assert len(find_settings(str(row["example"]), engine)) == 1
    assert find_settings(str(row["not"]), engine) == []


@pytest.mark.parametrize(
    ("engine", "line"),
    [
        ("oracle", "url=jdbc:oracle:thin:kb/s3cret@db:1521/X"),
        ("mysql", "url = 'mysql+pymysql://kb:s3cret@db/x'"),
        ("postgresql", "postgresql+psycopg2://kb:s3cret@db/x"),
        ("sqlserver", "jdbc:sqlserver://db;user=kb;password=s3cret"),
    ],
)
def test_passwords_in_addresses_are_not_shown(engine: str, line: str) -> None:
    (setting,) = find_settings(line, engine)
    assert "s3cret" not in setting.text


@given(
    st.text(max_size=300),
    st.sampled_from(sorted({*GRAMMARS, *EMBEDDED, *SHELL, ".xml", ".properties", ".yaml", ".json"})),
)
def test_no_text_of_any_language_breaks_the_finder(text: str, suffix: str) -> None:
    found = find_sql(text, suffix)
    assert found is not None
    as_script("a", found, "oracle")


@given(st.text(max_size=80).map(lambda t: f"SELECT a FROM t WHERE b = '{t}'"))
def test_whatever_stands_in_quotes_is_read_in_full(sql: str) -> None:
    program = read(f"q({json.dumps(sql, ensure_ascii=True)})", ".py")
    assert len(program.texts) == 1
    assert not program.spliced


def test_odd_files_are_said_and_the_rest_is_read(tmp_path: Path) -> None:
    (tmp_path / "a.py").write_text('q("SELECT a FROM t")\n', encoding="utf-8")
    (tmp_path / "latin.py").write_bytes('# caf\xe9\nq("SELECT b FROM t")\n'.encode("latin-1"))
    (tmp_path / "nul.java").write_bytes(b"\0\1\2\xff\xfe" * 40)
    (tmp_path / "broken.xml").write_text("<mapper><select>SELECT a FROM", encoding="utf-8")
    (tmp_path / "deep.json").write_text("[" * 100_000, encoding="utf-8")
    (tmp_path / "bomb.yml").write_text("a: &a [x,x]\nb: &b [*a,*a]\nc: [*b,*b]\n", encoding="utf-8")
    (tmp_path / "entity.xml").write_text(
        '<!DOCTYPE a [<!ENTITY e SYSTEM "file:///etc/passwd">]>'
        '<mapper namespace="a"><select id="s">SELECT &e; FROM t</select></mapper>',
        encoding="utf-8",
    )
    (tmp_path / "node_modules").mkdir()
    (tmp_path / "node_modules" / "x.js").write_text("q('SELECT z FROM t')", encoding="utf-8")
    found = read_programs(tmp_path, "oracle")
    assert {"a.py", "latin.py"} <= {program.name for program in found.programs}
    assert all("root:" not in words(program) for program in found.programs)
    assert all("node_modules" not in program.name for program in found.programs)


def test_no_programs_is_an_error(tmp_path: Path) -> None:
    with pytest.raises(SourceError, match="no such file or folder"):
        read_programs(tmp_path / "none", "oracle")
    done = CliRunner().invoke(app, ["programs", str(tmp_path / "none"), "--from", "oracle", "--to", "postgresql:18"])
    assert isinstance(done.exception, SourceError)


@pytest.fixture(scope="module")
def harbour(tmp_path_factory: pytest.TempPathFactory) -> Path:
    hull = tmp_path_factory.mktemp("programs") / "harbour.hull"
    done = CliRunner().invoke(
        app,
        [
            "survey",
            str(scripts_of("oracle")),
            "--from",
            "oracle",
            "--programs",
            str(PROGRAMS),
            "--output",
            str(hull),
            "--quiet",
        ],
    )
    assert done.exit_code == 0, done.output
    return hull


def test_programs_count_among_those_who_depend_on_tables_and_routines(harbour: Path) -> None:
    catalog = read_hull(harbour)
    queries = {item.id: item for item in catalog.objects.values() if item.details.get("program")}
    assert len(queries) == 19
    assert {item.type for item in queries.values()} == {ObjectType.QUERY}
    pairs = {(ref.object, ref.target) for ref in catalog.references if ref.object in queries}
    targets = {target.rpartition(".")[2] for _, target in pairs}
    assert {"port_calls", "vessels", "berths", "tariffs", "customs_holds", "cancel_call", "staff"} <= targets
    assert not [each for each in catalog.sightings if each.construct == "survey.unresolved" and each.object in queries]


def test_findings_of_programs_point_into_them(harbour: Path) -> None:
    result = steps.assess_hull(harbour, "postgresql:18")
    found = {(f.file, f.line, f.construct) for f in result.document.findings}
    text = (PROGRAMS / "reports" / "traffic.py").read_text(encoding="utf-8").split("\n")
    line = next(number for number, each in enumerate(text, start=1) if "CONNECT BY" in each)
    assert ("reports/traffic.py", line, "oracle.connect-by") in found
    assert any(file == "portal/application.properties" and name == "program.driver-setting" for file, _, name in found)


def test_spliced_text_is_never_promised(harbour: Path) -> None:
    document = steps.assess_hull(harbour, "postgresql:18").document
    spliced = {f.object for f in document.findings if f.construct == "program.spliced-text"}
    assert len(spliced) == 4
    assert {entry.outcome.value for entry in document.objects if entry.id in spliced} <= {"rewrite", "blocked"}


def test_command_lists_programs_and_places(tmp_path: Path) -> None:
    call = ["programs", str(PROGRAMS), "--from", "oracle", "--to", "postgresql:18"]
    text = CliRunner().invoke(app, call)
    assert text.exit_code == 0, text.output
    assert "19 texts of SQL in 6 of 6 files" in text.output
    rows = CliRunner().invoke(app, [*call, "--format", "csv", "--quiet"])
    assert "reports/traffic.py" in rows.output
    document = json.loads(CliRunner().invoke(app, [*call, "--format", "json", "--quiet"]).output)
    assert len(document["objects"]) >= 19
    assert CliRunner().invoke(app, [*call, "--fail-on", "warning"]).exit_code == 1


def test_comments_about_programs_survive_in_a_second_survey(tmp_path: Path) -> None:
    """A survey that finds nothing changed in the scripts still takes the programs, and leaves them out when not asked."""
    hull = tmp_path / "a.hull"
    scripts = tmp_path / "s"
    scripts.mkdir()
    (scripts / "a.sql").write_text("CREATE TABLE t (a NUMBER);\n", encoding="utf-8")
    (tmp_path / "p.py").write_text('q("SELECT a FROM t WHERE ROWNUM < 3")\n', encoding="utf-8")
    call = ["survey", str(scripts), "--from", "oracle", "--output", str(hull), "--quiet"]
    for extra, queries in (([], 0), (["--programs", str(tmp_path / "p.py")], 1), ([], 0)):
        assert CliRunner().invoke(app, [*call, *extra]).exit_code == 0
        assert len([o for o in read_hull(hull).objects.values() if o.type is ObjectType.QUERY]) == queries


@pytest.mark.parametrize("engine", ["oracle", "postgresql", "mysql", "sqlserver", "db2", "sqlite", "teradata"])
@pytest.mark.parametrize(
    "sql",
    [
        "CALL p(1)", "{call p(?)}", "{? = call p(?)}", "ALTER TABLE t ADD b INT", "LOCK TABLE t IN EXCLUSIVE MODE",
        "TRUNCATE TABLE t", "EXEC p 1", "CREATE TABLE t (a INT)", "DROP TABLE t", "GRANT SELECT ON t TO x",
        "CREATE INDEX i ON t(a)", "BEGIN p(1); END;",
    ],
)  # fmt: skip
def test_no_text_is_lost_and_none_but_queries_is_promised(engine: str, sql: str, tmp_path: Path) -> None:
    (tmp_path / "a.py").write_text(
        f'q("SELECT a FROM t")\nq("{sql}")\nq("{sql}"); q("SELECT b FROM t")\n', encoding="utf-8"
    )
    catalog, _ = steps.survey_programs(tmp_path / "a.py", engine)
    target = "oracle:19" if engine == "postgresql" else "postgresql:18"
    outcomes = [(entry.line, entry.outcome.value) for entry in steps.assess_catalog(catalog, target).document.objects]
    assert {line for line, _ in outcomes} == {1, 2, 3}
    assert not {outcome for line, outcome in outcomes if line == 2} & {"as-is", "drafted"}


def test_statements_that_are_no_queries_still_name_their_table(tmp_path: Path) -> None:
    (tmp_path / "a.sql").write_text("CREATE TABLE t (a NUMBER(5));\n", encoding="utf-8")
    (tmp_path / "p.py").write_text('q("LOCK TABLE t IN EXCLUSIVE MODE")\nq("TRUNCATE TABLE t")\n', encoding="utf-8")
    catalog = steps.survey_scripts(tmp_path / "a.sql", "oracle")
    steps.add_programs(catalog, tmp_path / "p.py")
    assert [(ref.line, ref.target) for ref in catalog.references] == [(1, "table.t"), (2, "table.t")]


def test_constants_of_other_files_are_followed_where_one_file_has_the_name(tmp_path: Path) -> None:
    (tmp_path / "Tables.java").write_text('class Tables { static final String CALLS = "port_calls"; }')
    (tmp_path / "Store.java").write_text(
        'class Store { static final String CALLS = "others"; String s = "SELECT a FROM " + Tables.CALLS + " WHERE b = ?"; }'
    )
    (tmp_path / "queries.py").write_text('ALL = "SELECT a FROM calls"\nMANY = "x"\nMANY = "y"\n')
    (tmp_path / "use.py").write_text('q(queries.ALL + " WHERE b = :b")\nq("SELECT a FROM " + queries.MANY)\n')
    texts = {p.name: [t.text for t in p.texts] for p in read_programs(tmp_path, "oracle").programs}
    assert texts["Store.java"] == ["SELECT a FROM port_calls WHERE b = ?"]
    assert texts["use.py"] == ["SELECT a FROM calls WHERE b = :b", "SELECT a FROM ?"]
    (tmp_path / "old").mkdir()
    (tmp_path / "old" / "Tables.java").write_text('class Tables { static final String CALLS = "old_calls"; }')
    texts = {p.name: [t.text for t in p.texts] for p in read_programs(tmp_path, "oracle").programs}
    assert texts["Store.java"] == ["SELECT a FROM ? WHERE b = ?"]
