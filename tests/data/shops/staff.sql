CREATE TABLE dept (id NUMBER(4) PRIMARY KEY, name VARCHAR2(30) NOT NULL, loc VARCHAR2(30), budget NUMBER(12,2));
CREATE TABLE emp (id NUMBER(6) PRIMARY KEY, name VARCHAR2(50) NOT NULL, mgr NUMBER(6) REFERENCES emp, dept_id NUMBER(4) CONSTRAINT emp_dept REFERENCES dept (id) ON DELETE SET NULL, sal NUMBER(8,2), comm NUMBER(8,2), hired DATE DEFAULT SYSDATE, fired DATE, email VARCHAR2(100) UNIQUE, active NUMBER(1) DEFAULT 1 CHECK (active IN (0,1)), ts TIMESTAMP, blob_c BLOB);
CREATE TABLE log_t (id NUMBER, msg VARCHAR2(4000), at DATE, lvl VARCHAR2(5));
CREATE TABLE acc (id NUMBER, bal NUMBER(15,2), typ CHAR(1), opened DATE);
CREATE SEQUENCE emp_seq; CREATE SEQUENCE log_seq CACHE 100;
CREATE INDEX emp_n ON emp (LOWER(name)); CREATE INDEX emp_h ON emp (TRUNC(hired)); CREATE INDEX emp_c ON emp (NVL(comm,0), TO_CHAR(hired,'YYYY'));
CREATE OR REPLACE VIEW v1 AS SELECT e.id, e.name || ' ' || d.name nm, NVL(e.comm, 0) + e.sal total, MONTHS_BETWEEN(SYSDATE, e.hired) m FROM emp e, dept d WHERE e.dept_id = d.id(+);
CREATE OR REPLACE VIEW v2 AS SELECT d.name, COUNT(*) cnt, SUM(e.sal) s, AVG(e.sal) a, MAX(e.hired) - MIN(e.hired) span, TO_CHAR(SUM(e.sal), 'FM999,999,990.00') fmt FROM emp e JOIN dept d ON d.id = e.dept_id GROUP BY d.name HAVING COUNT(*) > 1;
CREATE OR REPLACE VIEW v3 AS SELECT e.*, ROW_NUMBER() OVER (PARTITION BY dept_id ORDER BY sal DESC NULLS LAST) rn, LAG(sal, 1, 0) OVER (ORDER BY hired) prev FROM emp e;
CREATE OR REPLACE VIEW v4 AS SELECT name, CASE WHEN hired > ADD_MONTHS(TRUNC(SYSDATE, 'YEAR'), -12) THEN 'new' ELSE 'old' END age, DECODE(SIGN(sal - 1000), 1, 'high', 0, 'mid', -1, 'low') lvl, TRUNC(sal / 3, 2) third, ROUND(hired, 'MM') rm FROM emp;
CREATE OR REPLACE VIEW v5 AS SELECT id, name FROM emp WHERE id IN (SELECT mgr FROM emp WHERE mgr IS NOT NULL) UNION SELECT id, name FROM dept MINUS SELECT 1, 'x' FROM dual;
CREATE OR REPLACE VIEW v6 AS SELECT q.* FROM (SELECT e.name, d.loc FROM emp e, dept d WHERE e.dept_id (+) = d.id ORDER BY e.name) q WHERE ROWNUM <= 100;
CREATE OR REPLACE VIEW v7 (a, b, c) AS SELECT TO_NUMBER(SUBSTR(email, 1, INSTR(email, '@') - 1)), TO_DATE('20240101', 'YYYYMMDD') + 5, LENGTH(TRIM(name)) FROM emp WHERE UPPER(name) LIKE 'A%' AND NVL(fired, SYSDATE + 1) > SYSDATE;
CREATE OR REPLACE VIEW v8 AS SELECT (SELECT COUNT(*) FROM emp e WHERE e.dept_id = d.id) n, GREATEST(NVL(d.budget,0), 10) g, LPAD(d.id, 5, '0') pid, INITCAP(d.name) ic, SYSDATE - 30 d30, EXTRACT(YEAR FROM SYSDATE) y FROM dept d;
CREATE OR REPLACE VIEW v9 AS SELECT e.name, m.name mgr, d.name dept FROM emp e, emp m, dept d WHERE e.mgr = m.id(+) AND e.dept_id = d.id(+) AND d.loc(+) = 'X' AND e.active = 1;
CREATE OR REPLACE VIEW v10 AS SELECT TRUNC(hired) d, COUNT(*) c FROM emp GROUP BY TRUNC(hired) ORDER BY 1;
CREATE OR REPLACE FUNCTION f_emp_name(p_id emp.id%TYPE) RETURN emp.name%TYPE IS v emp.name%TYPE; BEGIN SELECT name INTO v FROM emp WHERE id = p_id; RETURN v; EXCEPTION WHEN NO_DATA_FOUND THEN RETURN NULL; WHEN TOO_MANY_ROWS THEN RETURN 'many'; END f_emp_name;
/
CREATE OR REPLACE FUNCTION f_tax(p_sal IN NUMBER, p_rate NUMBER DEFAULT 0.2) RETURN NUMBER IS
  v_tax NUMBER(10,2);
BEGIN
  v_tax := CASE WHEN p_sal < 1000 THEN 0 WHEN p_sal BETWEEN 1000 AND 5000 THEN p_sal * p_rate ELSE p_sal * (p_rate + 0.1) END;
  RETURN ROUND(v_tax, 0);
END;
/
CREATE OR REPLACE FUNCTION f_is_weekend(d DATE) RETURN BOOLEAN AS BEGIN RETURN TO_CHAR(d, 'DY', 'NLS_DATE_LANGUAGE=ENGLISH') IN ('SAT','SUN'); END;
/
CREATE OR REPLACE FUNCTION f_split(p_str VARCHAR2, p_n PLS_INTEGER, p_sep VARCHAR2 := ',') RETURN VARCHAR2 IS
  v_start PLS_INTEGER := 1; v_end PLS_INTEGER; v_i PLS_INTEGER := 0;
BEGIN
  LOOP
    v_end := INSTR(p_str, p_sep, v_start);
    v_i := v_i + 1;
    IF v_end = 0 THEN RETURN CASE v_i WHEN p_n THEN SUBSTR(p_str, v_start) END; END IF;
    IF v_i = p_n THEN RETURN SUBSTR(p_str, v_start, v_end - v_start); END IF;
    v_start := v_end + LENGTH(p_sep);
  END LOOP;
END f_split;
/
CREATE OR REPLACE FUNCTION f_dept_list(p_loc VARCHAR2) RETURN VARCHAR2 IS
  v_list VARCHAR2(32767) := '';
BEGIN
  FOR r IN (SELECT name FROM dept WHERE loc = p_loc OR p_loc IS NULL ORDER BY name)
  LOOP
    IF v_list IS NOT NULL THEN v_list := v_list || ', '; END IF;
    v_list := v_list || r.name;
  END LOOP;
  RETURN NVL(v_list, '-');
END;
/
CREATE OR REPLACE PROCEDURE p_hire(p_name IN VARCHAR2, p_dept IN NUMBER, p_sal IN NUMBER, p_id OUT NUMBER) AS
  v_cnt NUMBER;
  e_dept EXCEPTION;
BEGIN
  SELECT COUNT(*) INTO v_cnt FROM dept WHERE id = p_dept;
  IF v_cnt = 0 THEN RAISE e_dept; END IF;
  INSERT INTO emp(id, name, dept_id, sal, hired) VALUES (emp_seq.NEXTVAL, p_name, p_dept, p_sal, TRUNC(SYSDATE)) RETURNING id INTO p_id;
  p_log('hired ' || p_name || ' as ' || p_id);
EXCEPTION
  WHEN e_dept THEN RAISE_APPLICATION_ERROR(-20001, 'No dept ' || TO_CHAR(p_dept));
  WHEN DUP_VAL_ON_INDEX THEN p_log(p_msg => SQLERRM, p_lvl => 'ERR'); RAISE;
END p_hire;
/
CREATE OR REPLACE PROCEDURE p_log(p_msg VARCHAR2, p_lvl VARCHAR2 DEFAULT 'INFO') IS
BEGIN
  INSERT INTO log_t (id, msg, at, lvl) VALUES (log_seq.NEXTVAL, SUBSTR(p_msg, 1, 4000), SYSDATE, p_lvl);
END;
/
CREATE OR REPLACE PROCEDURE p_raise(p_pct NUMBER) IS
  CURSOR c IS SELECT id, sal FROM emp WHERE active = 1 FOR UPDATE OF sal;
  v_total NUMBER := 0;
BEGIN
  FOR r IN c LOOP
    UPDATE emp SET sal = sal * (1 + p_pct / 100) WHERE CURRENT OF c;
    v_total := v_total + r.sal * p_pct / 100;
  END LOOP;
  p_log('raised by ' || TO_CHAR(v_total, '999G990D00'));
  COMMIT;
END;
/
CREATE OR REPLACE PROCEDURE p_purge(p_days IN PLS_INTEGER := 30) IS
  v_deleted PLS_INTEGER;
  v_batch CONSTANT PLS_INTEGER := 1000;
BEGIN
  LOOP
    DELETE FROM log_t WHERE at < SYSDATE - p_days AND ROWNUM <= v_batch;
    v_deleted := SQL%ROWCOUNT;
    COMMIT;
    EXIT WHEN v_deleted < v_batch;
  END LOOP;
END;
/
CREATE OR REPLACE PROCEDURE p_transfer(p_from NUMBER, p_to NUMBER, p_amt NUMBER) IS
  v_bal acc.bal%TYPE;
BEGIN
  SELECT bal INTO v_bal FROM acc WHERE id = p_from FOR UPDATE NOWAIT;
  IF v_bal < p_amt THEN
    RAISE_APPLICATION_ERROR(-20010, 'Insufficient: ' || v_bal || ' < ' || p_amt);
  ELSE
    UPDATE acc SET bal = bal - p_amt WHERE id = p_from;
    UPDATE acc SET bal = bal + p_amt WHERE id = p_to;
    IF SQL%NOTFOUND THEN ROLLBACK; RETURN; END IF;
  END IF;
END;
/
CREATE OR REPLACE PROCEDURE p_report IS
  v_row emp%ROWTYPE; v_line VARCHAR2(200); v_cur SYS_REFCURSOR;
BEGIN
  OPEN v_cur FOR SELECT * FROM emp WHERE active = 1 ORDER BY name;
  LOOP
    FETCH v_cur INTO v_row;
    EXIT WHEN v_cur%NOTFOUND;
    v_line := RPAD(v_row.name, 20) || LPAD(TO_CHAR(v_row.sal), 10) || CHR(9) || TO_CHAR(v_row.hired, 'DD-MON-YYYY');
    DBMS_OUTPUT.PUT_LINE(v_line);
  END LOOP;
  CLOSE v_cur;
  DBMS_OUTPUT.NEW_LINE;
END;
/
CREATE OR REPLACE PROCEDURE p_merge IS
BEGIN
  MERGE INTO dept d USING (SELECT 10 id, 'X' name FROM dual UNION ALL SELECT 20, 'Y' FROM dual) s ON (d.id = s.id)
  WHEN MATCHED THEN UPDATE SET d.name = s.name, d.budget = NVL(d.budget, 0) + 1
  WHEN NOT MATCHED THEN INSERT (d.id, d.name) VALUES (s.id, s.name);
END;
/
CREATE OR REPLACE PROCEDURE p_dyn(p_tab VARCHAR2, p_where VARCHAR2 DEFAULT NULL, p_n OUT PLS_INTEGER) IS
  v_sql VARCHAR2(1000);
BEGIN
  v_sql := 'SELECT COUNT(*) FROM ' || p_tab;
  IF p_where IS NOT NULL THEN v_sql := v_sql || ' WHERE ' || p_where; END IF;
  EXECUTE IMMEDIATE v_sql INTO p_n;
EXCEPTION WHEN OTHERS THEN p_n := -1; p_log('err ' || SQLCODE || ' ' || SUBSTR(SQLERRM, 1, 100));
END;
/
CREATE OR REPLACE TRIGGER emp_bi BEFORE INSERT OR UPDATE ON emp FOR EACH ROW
DECLARE v_max NUMBER;
BEGIN
  IF INSERTING AND :NEW.id IS NULL THEN SELECT emp_seq.NEXTVAL INTO :NEW.id FROM dual; END IF;
  :NEW.name := UPPER(TRIM(:NEW.name));
  IF :NEW.sal <> :OLD.sal OR :OLD.sal IS NULL THEN :NEW.ts := SYSTIMESTAMP; END IF;
  IF UPDATING AND :NEW.hired <> :OLD.hired THEN RAISE_APPLICATION_ERROR(-20020, 'hired is fixed'); END IF;
  :NEW.email := LOWER(NVL(:NEW.email, :NEW.name || '@kb.invalid'));
END;
/
CREATE OR REPLACE TRIGGER emp_ad AFTER DELETE ON emp FOR EACH ROW BEGIN p_log('del ' || :OLD.id || ':' || TO_CHAR(:OLD.hired, 'YYYYMMDD')); END;
/
CREATE OR REPLACE TRIGGER dept_as AFTER INSERT OR UPDATE OF name, loc OR DELETE ON dept DECLARE v VARCHAR2(10); BEGIN CASE WHEN INSERTING THEN v := 'I'; WHEN UPDATING THEN v := 'U'; ELSE v := 'D'; END CASE; p_log(v); END;
/
CREATE OR REPLACE PACKAGE pk AS
  TYPE rc IS REF CURSOR;
  c_ver CONSTANT VARCHAR2(10) := '1.0';
  FUNCTION ver RETURN VARCHAR2;
  PROCEDURE list(p_dept NUMBER, p_rc OUT rc);
  PROCEDURE list(p_name VARCHAR2, p_rc OUT SYS_REFCURSOR);
  FUNCTION net(p_id NUMBER) RETURN NUMBER;
END pk;
/
CREATE OR REPLACE PACKAGE BODY pk AS
  FUNCTION ver RETURN VARCHAR2 IS BEGIN RETURN c_ver; END;
  PROCEDURE list(p_dept NUMBER, p_rc OUT rc) IS BEGIN OPEN p_rc FOR SELECT id, name FROM emp WHERE dept_id = p_dept; END;
  PROCEDURE list(p_name VARCHAR2, p_rc OUT SYS_REFCURSOR) IS BEGIN OPEN p_rc FOR SELECT id, name FROM emp WHERE name LIKE p_name || '%'; END;
  FUNCTION net(p_id NUMBER) RETURN NUMBER IS v NUMBER; BEGIN SELECT sal - f_tax(sal) INTO v FROM emp WHERE id = p_id; RETURN v; END;
END pk;
/
BEGIN
  p_log('install ' || pk.ver);
  FOR i IN 1..3 LOOP INSERT INTO dept (id, name) VALUES (i * 10, 'D' || i); END LOOP;
  COMMIT;
END;
/
COMMENT ON TABLE emp IS 'People';
INSERT INTO dept VALUES (50, 'Ops', NULL, 1e6);
INSERT INTO dept SELECT id + 100, name, loc, budget FROM dept;
UPDATE emp e SET e.sal = (SELECT AVG(x.sal) FROM emp x WHERE x.dept_id = e.dept_id) WHERE e.sal IS NULL;
SELECT e.name, NVL2(e.mgr, 'has', 'none') FROM emp e WHERE e.hired BETWEEN TO_DATE('01/01/2020','DD/MM/YYYY') AND LAST_DAY(SYSDATE) ORDER BY e.name;
