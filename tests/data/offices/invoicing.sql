CREATE OR REPLACE PACKAGE BODY invoice_api AS
  CURSOR c_open(p_cust NUMBER) IS SELECT inv_id, amount FROM invoices WHERE cust_id = p_cust AND paid = 'N' ORDER BY due;
  g_user VARCHAR2(30) := USER;
  TYPE t_tab IS TABLE OF invoices%ROWTYPE;
  FUNCTION balance(p_cust NUMBER) RETURN NUMBER IS l NUMBER := 0;
  BEGIN
    FOR r IN c_open(p_cust) LOOP l := l + r.amount; END LOOP;
    RETURN l;
  END;
  PROCEDURE pay(p_cust NUMBER, p_amount IN OUT NUMBER) IS
    r c_open%ROWTYPE;
  BEGIN
    OPEN c_open(p_cust);
    LOOP
      FETCH c_open INTO r;
      EXIT WHEN c_open%NOTFOUND OR p_amount <= 0;
      UPDATE invoices SET paid = CASE WHEN p_amount >= r.amount THEN 'Y' ELSE 'P' END WHERE inv_id = r.inv_id;
      p_amount := p_amount - LEAST(p_amount, r.amount);
    END LOOP;
    IF c_open%ISOPEN THEN CLOSE c_open; END IF;
    INSERT INTO inv_log(what, who) VALUES ('pay ' || p_cust, g_user);
  EXCEPTION
    WHEN OTHERS THEN
      IF c_open%ISOPEN THEN CLOSE c_open; END IF;
      RAISE_APPLICATION_ERROR(-20010, 'pay failed: ' || SQLERRM, TRUE);
  END pay;
  PROCEDURE bulk_due(p_days PLS_INTEGER := 30) IS
    l_rows t_tab; l_idx PLS_INTEGER;
  BEGIN
    SELECT * BULK COLLECT INTO l_rows FROM invoices WHERE due < TRUNC(SYSDATE) - p_days;
    l_idx := l_rows.FIRST;
    WHILE l_idx IS NOT NULL LOOP
      l_rows(l_idx).amount := l_rows(l_idx).amount * 1.02;
      l_idx := l_rows.NEXT(l_idx);
    END LOOP;
    FORALL i IN 1 .. l_rows.COUNT UPDATE invoices SET amount = l_rows(i).amount WHERE inv_id = l_rows(i).inv_id;
  END;
END invoice_api;
/
CREATE TABLE invoices (inv_id NUMBER(12) PRIMARY KEY, cust_id NUMBER(10) NOT NULL, amount NUMBER(12,2), due DATE, paid CHAR(1) DEFAULT 'N', currency CHAR(3) DEFAULT 'EUR' NOT NULL, meta XMLTYPE) PARTITION BY RANGE (due) (PARTITION p1 VALUES LESS THAN (TO_DATE('2024-01-01','YYYY-MM-DD')), PARTITION pmax VALUES LESS THAN (MAXVALUE));
CREATE TABLE inv_log (what VARCHAR2(200), who VARCHAR2(30), ts TIMESTAMP DEFAULT SYSTIMESTAMP);
CREATE OR REPLACE PACKAGE invoice_api AUTHID CURRENT_USER AS
  FUNCTION balance(p_cust NUMBER) RETURN NUMBER;
  PROCEDURE pay(p_cust NUMBER, p_amount IN OUT NUMBER);
  PROCEDURE bulk_due(p_days PLS_INTEGER := 30);
END invoice_api;
/
CREATE OR REPLACE FUNCTION fmt_amount(p NUMBER, cur VARCHAR2 DEFAULT 'EUR') RETURN VARCHAR2 DETERMINISTIC IS
BEGIN
  RETURN CASE cur WHEN 'EUR' THEN '€ ' ELSE cur || ' ' END || TRIM(TO_CHAR(p, '999G999G990D00'));
END;
/
CREATE OR REPLACE FUNCTION iban_ok(p VARCHAR2) RETURN BOOLEAN IS
  l VARCHAR2(100); n NUMBER := 0; c CHAR(1);
BEGIN
  l := REPLACE(UPPER(p), ' ');
  IF LENGTH(l) < 15 OR NOT REGEXP_LIKE(l, '^[A-Z]{2}[0-9]{2}') THEN RETURN FALSE; END IF;
  l := SUBSTR(l, 5) || SUBSTR(l, 1, 4);
  FOR i IN 1 .. LENGTH(l) LOOP
    c := SUBSTR(l, i, 1);
    IF c BETWEEN '0' AND '9' THEN n := MOD(n * 10 + TO_NUMBER(c), 97);
    ELSE n := MOD(n * 100 + ASCII(c) - 55, 97);
    END IF;
  END LOOP;
  RETURN n = 1;
END;
/
CREATE OR REPLACE PROCEDURE check_ibans IS
BEGIN
  IF iban_ok('DE00') THEN NULL; END IF;
  FOR r IN (SELECT cust_id, SUM(amount) s, MAX(due) KEEP (DENSE_RANK LAST ORDER BY amount) d, RATIO_TO_REPORT(SUM(amount)) OVER () q FROM invoices GROUP BY cust_id HAVING COUNT(*) > 1) LOOP
    DBMS_OUTPUT.PUT_LINE(r.cust_id || ':' || TO_CHAR(r.s) || NVL2(r.d, 'y', 'n'));
  END LOOP;
END;
/
CREATE OR REPLACE TRIGGER inv_bi BEFORE INSERT ON invoices FOR EACH ROW
BEGIN
  :NEW.inv_id := COALESCE(:NEW.inv_id, TO_NUMBER(TO_CHAR(SYSDATE, 'YYYYMMDD')) * 1000);
  IF :NEW.amount IS NULL OR :NEW.amount < 0 THEN raise_application_error(-20099, 'bad amount'); END IF;
  :NEW.currency := UPPER(:NEW.currency);
EXCEPTION WHEN VALUE_ERROR THEN :NEW.amount := 0;
END;
/
CREATE OR REPLACE VIEW v_inv AS SELECT i.*, TRUNC(MONTHS_BETWEEN(SYSDATE, due)) late_months, EXTRACT(YEAR FROM due) y, TO_CHAR(due, 'IW') wk, GREATEST(amount, 0) g, NULLIF(paid, 'N') np, COUNT(*) OVER (PARTITION BY cust_id ORDER BY due ROWS BETWEEN UNBOUNDED PRECEDING AND CURRENT ROW) n FROM invoices i WHERE amount > ALL (SELECT 0 FROM dual) AND ROWNUM < 1000;
CREATE MATERIALIZED VIEW mv_sum BUILD IMMEDIATE REFRESH COMPLETE ON DEMAND AS SELECT cust_id, SUM(amount) total FROM invoices GROUP BY cust_id;
CREATE OR REPLACE FUNCTION clob_words(p CLOB) RETURN NUMBER IS
  l_pos NUMBER := 1; l_n NUMBER := 0; l_len NUMBER := DBMS_LOB.GETLENGTH(p);
BEGIN
  LOOP
    l_pos := DBMS_LOB.INSTR(p, ' ', l_pos);
    EXIT WHEN l_pos = 0 OR l_pos > l_len;
    l_n := l_n + 1; l_pos := l_pos + 1;
  END LOOP;
  RETURN l_n + 1;
END;
/
CREATE OR REPLACE PROCEDURE archive_old(p_before DATE, p_rows OUT NUMBER) IS
  l_sql VARCHAR2(1000) := 'INSERT INTO inv_log(what) SELECT ''old '' || inv_id FROM invoices WHERE due < :1';
BEGIN
  EXECUTE IMMEDIATE l_sql USING p_before;
  p_rows := SQL%ROWCOUNT;
  EXECUTE IMMEDIATE 'TRUNCATE TABLE inv_log';
  DELETE FROM invoices WHERE due < p_before AND paid = 'Y';
  p_rows := p_rows + SQL%ROWCOUNT;
  COMMIT;
END;
/
