CREATE TABLE samples (
  sample_id   NUMBER GENERATED ALWAYS AS IDENTITY (START WITH 100 CACHE 20) PRIMARY KEY,
  barcode     VARCHAR2(30 BYTE) NOT NULL, taken_at TIMESTAMP(3) WITH LOCAL TIME ZONE DEFAULT SYSTIMESTAMP NOT NULL,
  depth_m     BINARY_FLOAT, station CHAR(4), ph NUMBER(4,2) CONSTRAINT samples_ph_ck CHECK (ph BETWEEN 0 AND 14),
  doc         CLOB CHECK (doc IS JSON), state VARCHAR2(10) DEFAULT 'new' INVISIBLE,
  label       VARCHAR2(60) GENERATED ALWAYS AS (station || '-' || barcode) VIRTUAL,
  CONSTRAINT samples_barcode_uk UNIQUE (barcode) USING INDEX TABLESPACE idx
) SEGMENT CREATION IMMEDIATE PCTFREE 5 TABLESPACE data STORAGE (INITIAL 64K) NOLOGGING;
CREATE TABLE results (
  sample_id NUMBER NOT NULL, test_cd VARCHAR2(8) NOT NULL, val NUMBER, unit VARCHAR2(10), done_on DATE,
  CONSTRAINT results_pk PRIMARY KEY (sample_id, test_cd), CONSTRAINT results_fk FOREIGN KEY (sample_id) REFERENCES samples ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED
) ORGANIZATION INDEX OVERFLOW;
CREATE GLOBAL TEMPORARY TABLE gtt_ids (id NUMBER) ON COMMIT DELETE ROWS;
CREATE INDEX results_done_ix ON results (TRUNC(done_on), UPPER(unit)) COMPUTE STATISTICS;
CREATE BITMAP INDEX samples_station_bx ON samples (station);
COMMENT ON COLUMN samples.ph IS 'Acidity, 0 to 14';
CREATE OR REPLACE TYPE t_num AS TABLE OF NUMBER;
/
CREATE OR REPLACE TYPE t_res AS OBJECT (test_cd VARCHAR2(8), val NUMBER);
/
CREATE OR REPLACE TYPE t_res_tab AS TABLE OF t_res;
/
CREATE OR REPLACE FORCE EDITIONABLE VIEW v_latest (barcode, test_cd, val, done_on, rnk) AS
SELECT s.barcode, r.test_cd, r.val, r.done_on, DENSE_RANK() OVER (PARTITION BY r.test_cd ORDER BY r.done_on DESC NULLS LAST)
FROM samples s, results r WHERE r.sample_id(+) = s.sample_id AND NVL(r.unit, 'x') <> 'bad' WITH READ ONLY;
CREATE OR REPLACE VIEW v_pivot AS
SELECT * FROM (SELECT sample_id, test_cd, val FROM results) PIVOT (MAX(val) FOR test_cd IN ('PH' AS ph, 'SAL' AS sal, 'TEMP' AS temp));
CREATE OR REPLACE VIEW v_stat AS
SELECT station, COUNT(*) n, ROUND(AVG(ph), 2) avg_ph, MEDIAN(ph) med, LISTAGG(barcode, ', ') WITHIN GROUP (ORDER BY barcode) bars,
  MAX(ph) KEEP (DENSE_RANK LAST ORDER BY taken_at) last_ph, RATIO_TO_REPORT(COUNT(*)) OVER () share
FROM samples GROUP BY station HAVING COUNT(*) > 1;
CREATE MATERIALIZED VIEW mv_daily BUILD IMMEDIATE REFRESH COMPLETE ON DEMAND AS
SELECT TRUNC(done_on) d, test_cd, COUNT(*) n FROM results GROUP BY TRUNC(done_on), test_cd;
CREATE OR REPLACE FUNCTION f_norm (p_val IN NUMBER, p_unit IN VARCHAR2 DEFAULT 'mg') RETURN NUMBER DETERMINISTIC PARALLEL_ENABLE IS
  l_factor CONSTANT NUMBER := CASE LOWER(p_unit) WHEN 'g' THEN 1000 WHEN 'mg' THEN 1 ELSE NULL END;
BEGIN
  RETURN ROUND(p_val * l_factor, 3);
EXCEPTION WHEN VALUE_ERROR THEN RETURN NULL;
END f_norm;
/
CREATE OR REPLACE FUNCTION f_tests (p_sample samples.sample_id%TYPE) RETURN t_res_tab PIPELINED AS
BEGIN
  FOR r IN (SELECT test_cd, val FROM results WHERE sample_id = p_sample ORDER BY 1) LOOP
    PIPE ROW (t_res(r.test_cd, r.val));
  END LOOP;
  RETURN;
END;
/
CREATE OR REPLACE PACKAGE lab AS
  gc_max CONSTANT PLS_INTEGER := 500;
  e_bad EXCEPTION;
  PRAGMA EXCEPTION_INIT(e_bad, -20777);
  SUBTYPE t_code IS VARCHAR2(8);
  TYPE t_row IS RECORD (code t_code, val NUMBER, ok BOOLEAN := TRUE);
  TYPE t_map IS TABLE OF NUMBER INDEX BY VARCHAR2(30);
  PROCEDURE add_result (p_barcode IN samples.barcode%TYPE, p_code t_code, p_val NUMBER, p_unit VARCHAR2 := NULL);
  FUNCTION score (p_sample NUMBER) RETURN NUMBER RESULT_CACHE;
  PROCEDURE import_csv (p_line VARCHAR2, p_count OUT NUMBER);
  PROCEDURE purge (p_before DATE);
  FUNCTION open_cur (p_station VARCHAR2) RETURN SYS_REFCURSOR;
END lab;
/
CREATE OR REPLACE PACKAGE BODY lab AS
  g_seen t_map;
  FUNCTION id_of (p_barcode VARCHAR2) RETURN NUMBER IS
    l_id samples.sample_id%TYPE;
  BEGIN
    SELECT sample_id INTO l_id FROM samples WHERE barcode = p_barcode;
    RETURN l_id;
  EXCEPTION
    WHEN NO_DATA_FOUND THEN
      INSERT INTO samples (barcode, station) VALUES (p_barcode, SUBSTR(p_barcode, 1, 4)) RETURNING sample_id INTO l_id;
      RETURN l_id;
    WHEN TOO_MANY_ROWS THEN RAISE_APPLICATION_ERROR(-20777, 'several samples ' || p_barcode, TRUE);
  END id_of;
  PROCEDURE add_result (p_barcode IN samples.barcode%TYPE, p_code t_code, p_val NUMBER, p_unit VARCHAR2 := NULL) IS
    l_id NUMBER := id_of(p_barcode);
  BEGIN
    IF p_val IS NULL OR p_val < 0 THEN RAISE e_bad; END IF;
    MERGE INTO results t USING (SELECT l_id AS id, p_code AS cd FROM dual) s ON (t.sample_id = s.id AND t.test_cd = s.cd)
    WHEN MATCHED THEN UPDATE SET t.val = f_norm(p_val, NVL(p_unit, 'mg')), t.done_on = SYSDATE
    WHEN NOT MATCHED THEN INSERT (sample_id, test_cd, val, unit, done_on) VALUES (s.id, s.cd, p_val, p_unit, SYSDATE);
    IF SQL%ROWCOUNT <> 1 THEN DBMS_OUTPUT.PUT_LINE('odd count ' || TO_CHAR(SQL%ROWCOUNT)); END IF;
    g_seen(p_barcode) := NVL(CASE WHEN g_seen.EXISTS(p_barcode) THEN g_seen(p_barcode) END, 0) + 1;
  END add_result;
  FUNCTION score (p_sample NUMBER) RETURN NUMBER RESULT_CACHE IS
    CURSOR c (cp_id NUMBER) IS SELECT r.*, ROWNUM rn FROM results r WHERE sample_id = cp_id;
    l_sum NUMBER := 0;
    l_rec c%ROWTYPE;
  BEGIN
    OPEN c(p_sample);
    LOOP
      FETCH c INTO l_rec;
      EXIT WHEN c%NOTFOUND;
      CONTINUE WHEN l_rec.val IS NULL;
      l_sum := l_sum + CASE WHEN l_rec.test_cd LIKE 'P%' THEN l_rec.val ELSE l_rec.val / 2 END;
    END LOOP;
    CLOSE c;
    RETURN LEAST(l_sum, gc_max);
  END;
  PROCEDURE import_csv (p_line VARCHAR2, p_count OUT NUMBER) IS
    l_pos PLS_INTEGER; l_rest VARCHAR2(4000) := p_line; l_tok VARCHAR2(100);
    TYPE t_list IS TABLE OF VARCHAR2(100);
    l_list t_list := t_list();
  BEGIN
    p_count := 0;
    WHILE l_rest IS NOT NULL LOOP
      l_pos := INSTR(l_rest, ';');
      IF l_pos = 0 THEN l_tok := l_rest; l_rest := NULL;
      ELSE l_tok := SUBSTR(l_rest, 1, l_pos - 1); l_rest := SUBSTR(l_rest, l_pos + 1);
      END IF;
      l_list.EXTEND; l_list(l_list.LAST) := TRIM(l_tok);
    END LOOP;
    FOR i IN 1 .. l_list.COUNT LOOP
      BEGIN
        add_result(p_barcode => REGEXP_SUBSTR(l_list(i), '[^=]+', 1, 1), p_code => 'PH', p_val => TO_NUMBER(REGEXP_SUBSTR(l_list(i), '[^=]+', 1, 2)));
        p_count := p_count + 1;
      EXCEPTION
        WHEN e_bad OR INVALID_NUMBER THEN NULL;
        WHEN OTHERS THEN
          IF SQLCODE = -1 THEN NULL; ELSE RAISE; END IF;
      END;
    END LOOP;
  END import_csv;
  PROCEDURE purge (p_before DATE) IS
    TYPE t_ids IS TABLE OF results.sample_id%TYPE;
    l_ids t_ids;
  BEGIN
    SELECT DISTINCT sample_id BULK COLLECT INTO l_ids FROM results WHERE done_on < p_before;
    FORALL i IN INDICES OF l_ids DELETE FROM results WHERE sample_id = l_ids(i);
    EXECUTE IMMEDIATE 'DELETE FROM samples WHERE taken_at < :1 AND NOT EXISTS (SELECT 1 FROM results r WHERE r.sample_id = samples.sample_id)' USING p_before;
    DELETE FROM samples s WHERE s.ROWID IN (SELECT MIN(x.ROWID) FROM samples x GROUP BY x.barcode HAVING COUNT(*) > 1);
    COMMIT;
  END;
  FUNCTION open_cur (p_station VARCHAR2) RETURN SYS_REFCURSOR IS
    l_cur SYS_REFCURSOR;
  BEGIN
    OPEN l_cur FOR 'SELECT barcode, ph FROM samples WHERE station = :s ORDER BY 1' USING p_station;
    RETURN l_cur;
  END;
BEGIN
  g_seen('start') := 0;
END lab;
/
CREATE OR REPLACE TRIGGER samples_biu BEFORE INSERT OR UPDATE OF ph, station ON samples FOR EACH ROW WHEN (NEW.ph IS NOT NULL)
DECLARE
  l_old NUMBER := :OLD.ph;
BEGIN
  IF INSERTING THEN :NEW.state := 'new';
  ELSIF UPDATING('PH') AND ABS(:NEW.ph - l_old) > 2 THEN :NEW.state := 'check';
  END IF;
  :NEW.station := UPPER(RPAD(:NEW.station, 4, 'X'));
END;
/
CREATE OR REPLACE PROCEDURE p_report (p_from DATE, p_to DATE DEFAULT TRUNC(SYSDATE) + 1) AUTHID CURRENT_USER AS
  l_n NUMBER; l_txt LONG;
BEGIN
  <<days>>
  FOR d IN (SELECT TRUNC(done_on) AS day, COUNT(*) AS n, SUM(val) AS total FROM results WHERE done_on >= p_from AND done_on < p_to GROUP BY TRUNC(done_on) ORDER BY 1) LOOP
    l_txt := l_txt || TO_CHAR(d.day, 'DD-MON-YYYY') || ': ' || LPAD(d.n, 5) || CHR(10);
    EXIT days WHEN LENGTH(l_txt) > 3000;
  END LOOP days;
  SELECT COUNT(*) INTO l_n FROM TABLE(f_tests(100));
  INSERT INTO gtt_ids SELECT COLUMN_VALUE FROM TABLE(t_num(1, 2, l_n));
  DBMS_OUTPUT.PUT_LINE(l_txt);
END;
/
INSERT INTO samples (barcode, station, ph) SELECT 'AB' || TO_CHAR(LEVEL, 'FM000'), 'ST01', MOD(LEVEL, 14) FROM dual CONNECT BY LEVEL <= 20;
INSERT ALL INTO results (sample_id, test_cd, val) VALUES (100, 'PH', 7) INTO results (sample_id, test_cd, val) VALUES (101, 'SAL', 3) SELECT * FROM dual;
BEGIN lab.add_result('AB001', 'PH', 7.1); END;
/
