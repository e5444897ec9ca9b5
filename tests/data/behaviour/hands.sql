-- Hands of a yard, with routines as a shop of Oracle writes them; comments state what each gives by the manual.
-- row hands: {"hand_no": 1, "name": "Ann", "boss_no": None, "since": "2015-03-31", "pay": "5000", "bonus": None, "crew": "OPS", "active": "Y"}
-- row hands: {"hand_no": 2, "name": "Bob", "boss_no": 1, "since": "2016-02-29", "pay": "3000.5", "bonus": "100", "crew": "OPS", "active": "Y"}
-- row hands: {"hand_no": 3, "name": "Cid", "boss_no": 1, "since": "2020-12-01", "pay": "2500", "bonus": "0", "crew": "FIN", "active": "N"}
-- row hands: {"hand_no": 4, "name": "Dee", "boss_no": 2, "since": None, "pay": None, "bonus": None, "crew": "FIN", "active": "Y"}
CREATE TABLE hands (hand_no NUMBER(6) PRIMARY KEY, name VARCHAR2(30) NOT NULL, boss_no NUMBER(6), since DATE, pay NUMBER(9,2), bonus NUMBER(7,2), crew VARCHAR2(10), active CHAR(1) DEFAULT 'Y');
CREATE TABLE audit_log (id NUMBER GENERATED ALWAYS AS IDENTITY PRIMARY KEY, what VARCHAR2(200), at DATE DEFAULT SYSDATE);
CREATE SEQUENCE seq_no START WITH 100 INCREMENT BY 5;
-- gives f_initials('  john  van der  berg '): 'JVDB'
-- gives f_initials(None): None
CREATE OR REPLACE FUNCTION f_initials(p_name VARCHAR2) RETURN VARCHAR2 IS
  v_out VARCHAR2(20); v_rest VARCHAR2(100) := TRIM(p_name); v_pos PLS_INTEGER;
BEGIN
  WHILE v_rest IS NOT NULL LOOP
    v_out := v_out || UPPER(SUBSTR(v_rest, 1, 1));
    v_pos := INSTR(v_rest, ' ');
    EXIT WHEN v_pos = 0;
    v_rest := LTRIM(SUBSTR(v_rest, v_pos + 1));
  END LOOP;
  RETURN v_out;
END;
/
-- gives f_years('2016-02-29', '2020-02-28'): 3
-- gives f_years('2016-02-29', '2020-02-29'): 4
CREATE OR REPLACE FUNCTION f_years(p_from DATE, p_to DATE) RETURN NUMBER IS
BEGIN
  RETURN TRUNC(MONTHS_BETWEEN(p_to, p_from) / 12);
END;
/
-- gives f_total('OPS'): '8100.5'
-- gives f_total('FIN'): 2500
-- gives f_total('NON'): 0
CREATE OR REPLACE FUNCTION f_total(p_crew VARCHAR2) RETURN NUMBER IS
  v_total NUMBER := 0;
  CURSOR c (cp_crew VARCHAR2) IS SELECT pay, bonus FROM hands WHERE crew = cp_crew ORDER BY hand_no;
  r c%ROWTYPE;
BEGIN
  OPEN c(p_crew);
  LOOP
    FETCH c INTO r;
    EXIT WHEN c%NOTFOUND;
    v_total := v_total + NVL(r.pay, 0) + NVL(r.bonus, 0);
  END LOOP;
  CLOSE c;
  RETURN v_total;
END;
/
-- gives f_boss(1): 'none'
-- gives f_boss(2): 'Ann'
-- gives f_boss(99): 'unknown'
CREATE OR REPLACE FUNCTION f_boss(p_no NUMBER) RETURN VARCHAR2 IS
  v_name hands.name%TYPE; v_boss hands.boss_no%TYPE;
BEGIN
  SELECT m.name, e.boss_no INTO v_name, v_boss FROM hands e LEFT JOIN hands m ON m.hand_no = e.boss_no WHERE e.hand_no = p_no;
  IF v_boss IS NULL THEN RETURN 'none'; END IF;
  RETURN v_name;
EXCEPTION
  WHEN NO_DATA_FOUND THEN RETURN 'unknown';
  WHEN TOO_MANY_ROWS THEN RETURN 'several';
END;
/
-- gives f_grade(6000): 'A'
-- gives f_grade(3000): 'B'
-- gives f_grade(None): '-'
-- gives f_grade(1): 'C'
CREATE OR REPLACE FUNCTION f_grade(p_sal NUMBER) RETURN VARCHAR2 IS
BEGIN
  CASE
    WHEN p_sal >= 5000 THEN RETURN 'A';
    WHEN p_sal >= 3000 THEN RETURN 'B';
    WHEN p_sal IS NULL THEN RETURN '-';
  END CASE;
  RETURN 'never';
EXCEPTION WHEN CASE_NOT_FOUND THEN RETURN 'C';
END;
/
-- gives f_hex(255): 'FF'
-- gives f_hex(4096): '1000'
-- gives f_hex(0): '0'
CREATE OR REPLACE FUNCTION f_hex(p_n NUMBER) RETURN VARCHAR2 IS
  v VARCHAR2(30); n NUMBER := p_n; d CONSTANT VARCHAR2(16) := '0123456789ABCDEF';
BEGIN
  IF n = 0 THEN RETURN '0'; END IF;
  WHILE n > 0 LOOP
    v := SUBSTR(d, MOD(n, 16) + 1, 1) || v;
    n := TRUNC(n / 16);
  END LOOP;
  RETURN v;
END;
/
-- gives f_chain(4): 'Dee1<Bob2<Ann3'
CREATE OR REPLACE FUNCTION f_chain(p_no NUMBER) RETURN VARCHAR2 IS
  v VARCHAR2(400);
BEGIN
  FOR r IN (SELECT name, LEVEL lv FROM hands START WITH hand_no = p_no CONNECT BY PRIOR boss_no = hand_no) LOOP
    IF v IS NOT NULL THEN v := v || '<'; END IF;
    v := v || r.name || r.lv;
  END LOOP;
  RETURN v;
END;
/
-- gives f_rev('abc'): 'cba'
-- gives f_rev(None): 'empty'
-- gives f_rev(''): 'empty'
CREATE OR REPLACE FUNCTION f_rev(p VARCHAR2) RETURN VARCHAR2 IS
  v VARCHAR2(200);
BEGIN
  FOR i IN REVERSE 1 .. NVL(LENGTH(p), 0) LOOP v := v || SUBSTR(p, i, 1); END LOOP;
  RETURN NVL(v, 'empty');
END;
/
-- gives f_days('2024-01-01', '2024-03-01'): 60
CREATE OR REPLACE FUNCTION f_days(p_a DATE, p_b DATE) RETURN NUMBER IS
BEGIN RETURN ROUND(p_b - p_a, 2); END;
/
-- gives f_raise(0): 'ZERO'
-- gives f_raise(4): '2.5'
-- gives f_raise(40): '.25'
CREATE OR REPLACE FUNCTION f_raise(p NUMBER) RETURN VARCHAR2 IS
  e_low EXCEPTION; PRAGMA EXCEPTION_INIT(e_low, -20001);
  v NUMBER;
BEGIN
  IF p < 0 THEN RAISE_APPLICATION_ERROR(-20001, 'low ' || p); END IF;
  v := 10 / p;
  RETURN TO_CHAR(v);
EXCEPTION
  WHEN e_low THEN RETURN 'LOW:' || SQLERRM;
  WHEN ZERO_DIVIDE THEN RETURN 'ZERO';
END;
/
CREATE OR REPLACE PROCEDURE p_raise_pay(p_crew IN VARCHAR2, p_pct IN NUMBER DEFAULT 10, p_count OUT NUMBER) IS
BEGIN
  UPDATE hands SET pay = ROUND(pay * (1 + p_pct / 100), 2) WHERE crew = p_crew AND pay IS NOT NULL;
  p_count := SQL%ROWCOUNT;
  INSERT INTO audit_log (what) VALUES ('raise ' || p_crew || ' ' || p_pct || '% for ' || p_count);
END;
/
-- gives f_after('OPS'): '2/8800.55/raise OPS 10% for 2'
CREATE OR REPLACE FUNCTION f_after(p_crew VARCHAR2) RETURN VARCHAR2 IS
  n NUMBER; s NUMBER; w VARCHAR2(200);
BEGIN
  p_raise_pay(p_crew => p_crew, p_count => n);
  SELECT SUM(pay) INTO s FROM hands WHERE crew = p_crew;
  SELECT MAX(what) INTO w FROM audit_log;
  RETURN n || '/' || s || '/' || w;
END;
/
-- gives f_list('OPS'): 'Bob,Ann#2'
-- gives f_list('X'): '#0'
CREATE OR REPLACE FUNCTION f_list(p_crew VARCHAR2) RETURN VARCHAR2 IS
  TYPE t_names IS TABLE OF hands.name%TYPE INDEX BY PLS_INTEGER;
  names t_names; v VARCHAR2(200);
BEGIN
  SELECT name BULK COLLECT INTO names FROM hands WHERE crew = p_crew ORDER BY name DESC;
  FOR i IN 1 .. names.COUNT LOOP
    v := v || CASE WHEN i > 1 THEN ',' END || names(i);
  END LOOP;
  RETURN v || '#' || names.COUNT;
END;
/
-- gives f_nested(0): 'ab1'
-- gives f_nested(1): 'ax100'
CREATE OR REPLACE FUNCTION f_nested(p NUMBER) RETURN VARCHAR2 IS
  v VARCHAR2(100) := 'a';
BEGIN
  <<inner>>
  DECLARE v VARCHAR2(100) := 'b';
  BEGIN
    IF p = 1 THEN RAISE NO_DATA_FOUND; END IF;
    v := v || '1';
    f_nested.v := f_nested.v || v;
  EXCEPTION WHEN OTHERS THEN f_nested.v := f_nested.v || 'x' || SQLCODE;
  END inner;
  RETURN v;
END;
/
-- gives f_seq(): '100,105,105'
CREATE OR REPLACE FUNCTION f_seq RETURN VARCHAR2 IS
  a NUMBER; b NUMBER;
BEGIN
  a := seq_no.NEXTVAL; 
  SELECT seq_no.NEXTVAL INTO b FROM dual;
  RETURN a || ',' || b || ',' || seq_no.CURRVAL;
END;
/
-- gives f_dyn('hands', 2600): 2
CREATE OR REPLACE FUNCTION f_dyn(p_table VARCHAR2, p_min NUMBER) RETURN NUMBER IS
  n NUMBER;
BEGIN
  EXECUTE IMMEDIATE 'SELECT COUNT(*) FROM ' || p_table || ' WHERE pay >= :1' INTO n USING p_min;
  RETURN n;
END;
/
-- gives f_merge(9, 'Eve'): 'Eve:NEW:Y'
-- gives f_merge(3, 'Sid'): 'Sid:FIN:N'
CREATE OR REPLACE FUNCTION f_merge(p_no NUMBER, p_name VARCHAR2) RETURN VARCHAR2 IS
  v VARCHAR2(60);
BEGIN
  MERGE INTO hands t USING (SELECT p_no AS no, p_name AS nm FROM dual) s ON (t.hand_no = s.no)
  WHEN MATCHED THEN UPDATE SET t.name = s.nm
  WHEN NOT MATCHED THEN INSERT (hand_no, name, crew) VALUES (s.no, s.nm, 'NEW');
  SELECT name || ':' || crew || ':' || active INTO v FROM hands WHERE hand_no = p_no;
  RETURN v;
END;
/
-- gives f_ret(4): 'Dee1'
-- gives f_ret(77): 'no row'
CREATE OR REPLACE FUNCTION f_ret(p_no NUMBER) RETURN VARCHAR2 IS
  v_old hands.pay%TYPE; v_name hands.name%TYPE;
BEGIN
  UPDATE hands SET pay = NVL(pay, 0) + 1 WHERE hand_no = p_no RETURNING pay, name INTO v_old, v_name;
  IF SQL%NOTFOUND THEN RETURN 'no row'; END IF;
  RETURN v_name || v_old;
END;
/
-- gives f_weekday('2024-03-02'): 'weekend'
-- gives f_weekday('2024-03-04'): 'work'
CREATE OR REPLACE FUNCTION f_weekday(p DATE) RETURN VARCHAR2 IS
BEGIN
  RETURN CASE TO_CHAR(p, 'DY', 'NLS_DATE_LANGUAGE=ENGLISH') WHEN 'SAT' THEN 'weekend' WHEN 'SUN' THEN 'weekend' ELSE 'work' END;
END;
/
-- gives f_goto(3): 45
-- gives f_goto(5): 39
CREATE OR REPLACE FUNCTION f_goto(p NUMBER) RETURN NUMBER IS
  n NUMBER := 0;
BEGIN
  <<outer>> FOR i IN 1 .. 5 LOOP
    FOR j IN 1 .. 5 LOOP
      CONTINUE WHEN MOD(j, 2) = 0;
      CONTINUE outer WHEN j > p;
      EXIT outer WHEN i * j > 12;
      n := n + i * j;
    END LOOP;
  END LOOP outer;
  RETURN n;
END;
/
-- gives f_split('a,b,,d', 2): 'b'
-- gives f_split('a,b,,d', 3): None
-- gives f_split('a,b,,d', 4): 'd'
-- gives f_split('a,b,,d', 5): None
-- gives f_split('a;b', 2, ';'): 'b'
CREATE OR REPLACE FUNCTION f_split(p VARCHAR2, p_n NUMBER, p_sep VARCHAR2 DEFAULT ',') RETURN VARCHAR2 IS
  v VARCHAR2(4000) := p_sep || p || p_sep;
  a NUMBER; b NUMBER;
BEGIN
  a := INSTR(v, p_sep, 1, p_n); b := INSTR(v, p_sep, 1, p_n + 1);
  IF a = 0 OR b = 0 THEN RETURN NULL; END IF;
  RETURN SUBSTR(v, a + 1, b - a - 1);
END;
/
-- gives f_bool('Y'): 1
-- gives f_bool('N'): 0
-- gives f_bool(None): -1
CREATE OR REPLACE FUNCTION f_bool(p VARCHAR2) RETURN NUMBER IS
  b BOOLEAN; 
BEGIN
  b := p IN ('Y', 'T', '1');
  IF b THEN RETURN 1; ELSIF NOT b THEN RETURN 0; ELSE RETURN -1; END IF;
END;
/
-- gives f_fact(10): 3628800
CREATE OR REPLACE FUNCTION f_fact(n PLS_INTEGER) RETURN NUMBER IS
BEGIN
  IF n <= 1 THEN RETURN 1; END IF;
  RETURN n * f_fact(n - 1);
END;
/
-- gives f_rec(2): 'Bob The Ops|6001.00|29-FEB-2016|100'
CREATE OR REPLACE FUNCTION f_rec(p NUMBER) RETURN VARCHAR2 IS
  r hands%ROWTYPE;
BEGIN
  SELECT * INTO r FROM hands WHERE hand_no = p;
  r.pay := r.pay * 2; r.name := INITCAP(LOWER(r.name) || ' the ' || r.crew);
  RETURN r.name || '|' || TO_CHAR(r.pay, 'FM99990.00') || '|' || TO_CHAR(r.since, 'DD-MON-YYYY') || '|' || r.bonus;
END;
/
CREATE OR REPLACE PACKAGE pk_cnt IS
  c_max CONSTANT NUMBER := 3;
  PROCEDURE hit(p IN OUT NUMBER);
  FUNCTION used RETURN NUMBER;
  FUNCTION is_full RETURN BOOLEAN;
END;
/
CREATE OR REPLACE PACKAGE BODY pk_cnt IS
  g_used NUMBER := 0;
  PROCEDURE hit(p IN OUT NUMBER) IS BEGIN g_used := g_used + 1; p := p + c_max; END;
  FUNCTION used RETURN NUMBER IS BEGIN RETURN g_used; END;
  FUNCTION is_full RETURN BOOLEAN IS BEGIN RETURN g_used >= c_max; END;
END;
/
-- gives f_pkg(): '10:3'
CREATE OR REPLACE FUNCTION f_pkg RETURN VARCHAR2 IS
  n NUMBER := 1;
BEGIN
  FOR i IN 1 .. 4 LOOP pk_cnt.hit(n); EXIT WHEN pk_cnt.is_full; END LOOP;
  RETURN n || ':' || pk_cnt.used;
END;
/
-- gives f_last('2024-01-15'): '2024-02-23'
CREATE OR REPLACE FUNCTION f_last(p DATE) RETURN DATE IS
BEGIN RETURN NEXT_DAY(LAST_DAY(ADD_MONTHS(p, 1)) - 7, 'FRIDAY'); END;
/
-- gives f_num('12.50'): '12.5'
-- gives f_num('1x'): None
CREATE OR REPLACE FUNCTION f_num(p VARCHAR2) RETURN NUMBER IS
BEGIN RETURN TO_NUMBER(p);
EXCEPTION WHEN VALUE_ERROR OR INVALID_NUMBER THEN RETURN NULL; END;
/
-- gives f_crew_pay('OPS'): 'Ann1 .625;Bob2 .375'
-- gives f_crew_pay('FIN'): 'Cid1 1;Dee2 0'
CREATE OR REPLACE FUNCTION f_crew_pay(p VARCHAR2) RETURN VARCHAR2 IS
  v VARCHAR2(400);
BEGIN
  FOR r IN (SELECT name, RANK() OVER (ORDER BY pay DESC NULLS LAST) rk, RATIO_TO_REPORT(pay) OVER () rt FROM hands WHERE crew = p AND hand_no < 5 ORDER BY 2) LOOP
    v := v || r.name || r.rk || ' ' || ROUND(NVL(r.rt, 0), 3) || ';';
  END LOOP;
  RETURN RTRIM(v, ';');
END;
/
