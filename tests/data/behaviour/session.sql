CREATE TABLE t (a NUMBER(9), b VARCHAR2(10))
/
CREATE OR REPLACE PACKAGE pk IS
  g_rate NUMBER := 1.5;
  c_max CONSTANT NUMBER := 10;
  PROCEDURE set_user(p VARCHAR2);
  FUNCTION who RETURN VARCHAR2;
  FUNCTION next_no RETURN NUMBER;
END pk;
/
CREATE OR REPLACE PACKAGE BODY pk IS
  g_user VARCHAR2(30);
  g_no PLS_INTEGER := 0;
  PROCEDURE set_user(p VARCHAR2) IS
  BEGIN
    g_user := UPPER(p);
    pk.g_rate := pk.g_rate + c_max;
    INSERT INTO t (a, b) VALUES (g_no, g_user);
    SELECT MAX(a) INTO g_no FROM t;
  END;
  FUNCTION who RETURN VARCHAR2 IS BEGIN RETURN NVL(g_user, 'nobody'); END;
  FUNCTION next_no RETURN NUMBER IS
  BEGIN
    g_no := g_no + 1;
    RETURN g_no * g_rate;
  END;
END pk;
/
