"""RETURNING INTO of Oracle on a real MariaDB: a change that meets no row is no error, whatever handlers are around."""

from pathlib import Path

import pytest

from .test_routines import on_mariadb, value

SCRIPT = """
CREATE TABLE fees (id NUMBER(9) PRIMARY KEY, boat VARCHAR2(20) NOT NULL, amount NUMBER(8,2));
CREATE OR REPLACE PROCEDURE raise_fee (p_id NUMBER, p_out OUT VARCHAR2) IS
  v NUMBER(8,2);
  w VARCHAR2(20) := 'none';
BEGIN
  SELECT amount INTO v FROM fees WHERE id = 1;
  UPDATE fees SET amount = amount + v WHERE id = p_id RETURNING boat INTO w;
  p_out := w;
END;
/
CREATE OR REPLACE PROCEDURE drop_fee (p_id NUMBER, p_out OUT VARCHAR2) IS
  w VARCHAR2(20) := 'none';
BEGIN
  DELETE FROM fees WHERE id = p_id RETURNING boat INTO w;
  p_out := w;
EXCEPTION
  WHEN NO_DATA_FOUND THEN p_out := 'missed';
END;
/
"""


@pytest.mark.server
@pytest.mark.parametrize(
    ("call", "given", "amounts"),
    [
        ("raise_fee(2", "Vole", "3.00,8.00"),
        ("raise_fee(9", "none", "3.00,5.00"),
        ("drop_fee(1", "Mole", "5.00"),
        ("drop_fee(9", "none", "3.00,5.00"),
    ],
)
def test_a_change_that_meets_no_row_leaves_the_variables(
    call: str, given: str, amounts: str, mariadb_socket: Path
) -> None:
    rows = "INSERT INTO fees VALUES (1, 'Mole', 3), (2, 'Vole', 5)"
    with on_mariadb(mariadb_socket, SCRIPT, "oracle", rows, "fees_office") as cursor:
        cursor.execute(f"CALL {call}, @given)")
        assert value(cursor, "SELECT @given") == given
        assert value(cursor, "SELECT GROUP_CONCAT(amount ORDER BY id) FROM fees") == amounts
