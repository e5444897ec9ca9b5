CREATE OR REPLACE PACKAGE limits IS
  -- What the harbour can take.
  c_max_length CONSTANT NUMBER(6,2) := 450;
  c_name CONSTANT VARCHAR2(30) := 'Kestrel' || ' Bay';
  c_double CONSTANT NUMBER := c_max_length * 2;
  e_too_long EXCEPTION;
  e_busy EXCEPTION;
  PRAGMA EXCEPTION_INIT(e_busy, -20077);
  PROCEDURE check_length(p NUMBER);
END limits;
/
CREATE OR REPLACE PACKAGE BODY limits IS
  c_private CONSTANT PLS_INTEGER := 3;

  PROCEDURE check_length(p NUMBER) IS
    l_rows NUMBER;
  BEGIN
    IF p > c_max_length THEN RAISE e_too_long; END IF;
    IF p > c_double + c_private THEN RAISE e_busy; END IF;
    UPDATE vessels SET length_m = p WHERE vessel_id = 1;
    l_rows := SQL%ROWCOUNT;
  END check_length;
END limits;
/
CREATE OR REPLACE FUNCTION tell(p NUMBER) RETURN VARCHAR2 IS
BEGIN
  limits.check_length(p);
  RETURN limits.c_name;
EXCEPTION
  WHEN limits.e_too_long THEN RETURN 'long';
  WHEN limits.e_busy OR DUP_VAL_ON_INDEX THEN RETURN 'busy';
END;
/
-- becomes ----------------------------------------------------------
-- package.limits: confirm
CREATE SCHEMA IF NOT EXISTS limits;
  -- What the harbour can take.
  CREATE OR REPLACE FUNCTION limits.c_max_length()
  RETURNS numeric LANGUAGE sql IMMUTABLE AS $hull$ SELECT CAST(450 AS numeric) $hull$;
  CREATE OR REPLACE FUNCTION limits.c_name()
  RETURNS varchar LANGUAGE sql IMMUTABLE AS $hull$ SELECT CAST('Kestrel' || ' Bay' AS varchar) $hull$;
  CREATE OR REPLACE FUNCTION limits.c_double()
  RETURNS numeric LANGUAGE sql IMMUTABLE AS $hull$ SELECT CAST(limits.c_max_length() * 2 AS numeric) $hull$;

-- function.tell: drafted
CREATE OR REPLACE FUNCTION tell(p numeric)
RETURNS text
LANGUAGE plpgsql
AS $hull$
BEGIN
  CALL limits.check_length(p);
  RETURN limits.c_name();
EXCEPTION
  WHEN SQLSTATE 'HX69M' THEN RETURN 'long';
  WHEN SQLSTATE 'HS077' OR unique_violation THEN RETURN 'busy';
END;
$hull$;

-- package_body.limits: confirm
CREATE SCHEMA IF NOT EXISTS limits;
  CREATE OR REPLACE FUNCTION limits.c_private()
  RETURNS integer LANGUAGE sql IMMUTABLE AS $hull$ SELECT CAST(3 AS integer) $hull$;

  CREATE OR REPLACE PROCEDURE limits.check_length(p numeric)
LANGUAGE plpgsql
AS $hull$
DECLARE
  hs_row_count bigint := 0;
    l_rows numeric;
  BEGIN
    IF p > limits.c_max_length() THEN RAISE EXCEPTION 'e_too_long' USING ERRCODE = 'HX69M'; END IF;
    IF p > limits.c_double() + limits.c_private() THEN RAISE EXCEPTION 'e_busy' USING ERRCODE = 'HS077'; END IF;
    UPDATE vessels SET length_m = p WHERE vessel_id = 1; GET DIAGNOSTICS hs_row_count = ROW_COUNT;
    l_rows := hs_row_count;
  END;
$hull$;
