-- Hull Sound: a kit for {client} ({about}).
--
-- It reads the data dictionary and nothing else: nothing is created or changed, and no row of data is read. It is one anonymous
-- block: a procedure that prints the rows of a query, and the queries. SELECT_CATALOG_ROLE is enough. Run it so, and hand back the
-- file OUTPUT:
--
--     {command}
--
-- Each line of OUTPUT is one JSON value, or a piece of one: a line that ends in + goes on in the next, behind its >. Read it before
-- you hand it on. A part that is refused is named in it.

SET TERMOUT ON ECHO OFF FEEDBACK OFF HEADING OFF VERIFY OFF DEFINE OFF PAGESIZE 0 LINESIZE 32767 TRIMOUT ON TRIMSPOOL ON
SET SQLBLANKLINES ON
SET SERVEROUTPUT ON SIZE UNLIMITED FORMAT WRAPPED
SET TRANSACTION READ ONLY;

DECLARE
  v_version VARCHAR2(40);
  v_name    VARCHAR2(200);

  -- Prints a line in pieces that the client takes.
  PROCEDURE put_line(p_text CLOB) IS
    c_piece CONSTANT PLS_INTEGER := 7000;
    v_at    PLS_INTEGER := 1;
    v_size  PLS_INTEGER := NVL(DBMS_LOB.GETLENGTH(p_text), 0);
    v_piece VARCHAR2(32767);
  BEGIN
    LOOP
      v_piece := DBMS_LOB.SUBSTR(p_text, c_piece, v_at);
      IF v_at > 1 THEN
        v_piece := '>' || v_piece;
      END IF;
      v_at := v_at + c_piece;
      IF v_at <= v_size THEN
        v_piece := v_piece || '+';
      END IF;
      DBMS_OUTPUT.PUT_LINE(v_piece);
      EXIT WHEN v_at > v_size;
    END LOOP;
  END put_line;

  -- Writes a text as JSON.
  FUNCTION quoted(p_text VARCHAR2) RETURN VARCHAR2 IS
    v_text VARCHAR2(32767) := p_text;
  BEGIN
    IF v_text IS NULL THEN
      RETURN 'null';
    END IF;
    v_text := REPLACE(REPLACE(v_text, '\', '\\'), '"', '\"');
    v_text := REPLACE(REPLACE(REPLACE(v_text, CHR(10), '\n'), CHR(13), '\r'), CHR(9), '\t');
    RETURN '"' || REGEXP_REPLACE(v_text, '[[:cntrl:]]', ' ') || '"';
  END quoted;

  -- Prints the rows of a query as JSON arrays that begin with its name.
  PROCEDURE run(p_name VARCHAR2, p_query VARCHAR2) IS
    c_long  CONSTANT PLS_INTEGER := 8;   -- the code of LONG, DBMS_SQL
    c_piece CONSTANT PLS_INTEGER := 8000;
    v_cursor  INTEGER := DBMS_SQL.OPEN_CURSOR;
    v_columns DBMS_SQL.DESC_TAB;
    v_count   INTEGER;
    v_text    VARCHAR2(32767);
    v_size    INTEGER;
    v_from    INTEGER;
    v_row     CLOB;
    v_ignored INTEGER;
  BEGIN
    DBMS_SQL.PARSE(v_cursor, p_query, DBMS_SQL.NATIVE);
    DBMS_SQL.DESCRIBE_COLUMNS(v_cursor, v_count, v_columns);
    FOR i IN 1 .. v_count LOOP
      IF v_columns(i).col_type = c_long THEN
        DBMS_SQL.DEFINE_COLUMN_LONG(v_cursor, i);
      ELSE
        DBMS_SQL.DEFINE_COLUMN(v_cursor, i, v_text, 32767);
      END IF;
    END LOOP;
    v_ignored := DBMS_SQL.EXECUTE(v_cursor);
    WHILE DBMS_SQL.FETCH_ROWS(v_cursor) > 0 LOOP
      v_row := '["' || p_name || '"';
      FOR i IN 1 .. v_count LOOP
        IF v_columns(i).col_type = c_long THEN
          v_from := 0;
          LOOP
            DBMS_SQL.COLUMN_VALUE_LONG(v_cursor, i, c_piece, v_from, v_text, v_size);
            EXIT WHEN NVL(v_size, 0) = 0;
            -- The pieces of one text: its quotes are kept at both ends only.
            v_row := v_row || CASE WHEN v_from = 0 THEN ', "' END || SUBSTR(quoted(v_text), 2, LENGTH(quoted(v_text)) - 2);
            v_from := v_from + v_size;
          END LOOP;
          v_row := v_row || CASE WHEN v_from = 0 THEN ', null' ELSE '"' END;
        ELSE
          DBMS_SQL.COLUMN_VALUE(v_cursor, i, v_text);
          v_row := v_row || ', ' || quoted(v_text);
        END IF;
      END LOOP;
      put_line(v_row || ']');
    END LOOP;
    DBMS_SQL.CLOSE_CURSOR(v_cursor);
    put_line('{"end": "' || p_name || '"}');
  EXCEPTION
    WHEN OTHERS THEN
      IF DBMS_SQL.IS_OPEN(v_cursor) THEN
        DBMS_SQL.CLOSE_CURSOR(v_cursor);
      END IF;
      put_line('{"refused": "' || p_name || '", "reason": ' || quoted(SQLERRM) || '}');
  END run;
BEGIN
  SELECT MAX(REGEXP_SUBSTR(version, '^\d+')) INTO v_version FROM sys.product_component_version WHERE product LIKE 'Oracle%';
  v_name := SYS_CONTEXT('USERENV', 'DB_NAME');
  put_line('{"hullsound": "{format}", "engine": "{engine}", "version": ' || quoted(v_version) || ', "name": ' || quoted(v_name) || '}');

-- each query
  run('{name}', q'[
{query}]');

-- the end
  put_line('{"end": ""}');
END;
/
ROLLBACK;
EXIT
