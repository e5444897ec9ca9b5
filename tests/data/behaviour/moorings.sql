CREATE TABLE moorings (id NUMBER(10) PRIMARY KEY, name VARCHAR2(40) NOT NULL, depth NUMBER(6,2), visits NUMBER(6) DEFAULT 0 NOT NULL);
CREATE TABLE arrivals (id NUMBER(10) PRIMARY KEY, mooring_id NUMBER(10) NOT NULL, ship VARCHAR2(40) NOT NULL, tons NUMBER(8,2) NOT NULL);
CREATE SEQUENCE arrival_seq START WITH 1;
CREATE SEQUENCE mooring_seq START WITH 50;
CREATE OR REPLACE TRIGGER moorings_bi BEFORE INSERT ON moorings FOR EACH ROW
BEGIN
  IF :NEW.id IS NULL THEN SELECT mooring_seq.NEXTVAL INTO :NEW.id FROM dual; END IF;
END;
/
CREATE OR REPLACE PROCEDURE add_mooring (p_name IN VARCHAR2, p_id OUT NUMBER) IS
BEGIN
  INSERT INTO moorings (name) VALUES (UPPER(p_name)) RETURNING id INTO p_id;
END;
/
CREATE OR REPLACE PROCEDURE add_arrival (p_mooring IN NUMBER, p_ship IN VARCHAR2, p_tons IN NUMBER, p_id OUT NUMBER) IS
BEGIN
  INSERT INTO arrivals (id, mooring_id, ship, tons) VALUES (arrival_seq.NEXTVAL, p_mooring, p_ship, p_tons)
  RETURNING id INTO p_id;
END;
/
CREATE OR REPLACE PROCEDURE list_arrivals (p_mooring IN NUMBER, p_rows OUT SYS_REFCURSOR) IS
BEGIN
  OPEN p_rows FOR SELECT ship, tons FROM arrivals WHERE mooring_id = p_mooring ORDER BY id;
END;
/
CREATE OR REPLACE PROCEDURE pass_on (p_rows OUT SYS_REFCURSOR) IS
BEGIN
  list_arrivals(1, p_rows);
END;
/
CREATE OR REPLACE FUNCTION arrivals_of (p_mooring IN NUMBER) RETURN SYS_REFCURSOR IS
  v_rows SYS_REFCURSOR;
BEGIN
  OPEN v_rows FOR SELECT COUNT(*) AS n FROM arrivals WHERE mooring_id = p_mooring;
  RETURN v_rows;
END;
/
CREATE OR REPLACE FUNCTION deepened (p_id IN NUMBER, p_by IN NUMBER) RETURN NUMBER IS
  before_it moorings%ROWTYPE;
  after_it moorings%ROWTYPE;
BEGIN
  SELECT * INTO before_it FROM moorings WHERE id = p_id;
  after_it := before_it;
  after_it.depth := after_it.depth + p_by;
  RETURN after_it.depth * 100 + before_it.depth;
EXCEPTION
  WHEN NO_DATA_FOUND THEN RETURN -1;
  WHEN OTHERS THEN RAISE;
END;
/
CREATE OR REPLACE PROCEDURE count_heavy (p_tons IN NUMBER) IS
  CURSOR c_heavy (c_tons NUMBER, c_ship VARCHAR2 DEFAULT 'x') IS
    SELECT mooring_id, tons FROM arrivals WHERE tons > c_tons AND ship <> c_ship ORDER BY id;
  r_heavy c_heavy%ROWTYPE;
BEGIN
  OPEN c_heavy(p_tons);
  LOOP
    FETCH c_heavy INTO r_heavy;
    EXIT WHEN c_heavy%NOTFOUND;
    UPDATE moorings SET visits = visits + 1 WHERE id = r_heavy.mooring_id;
  END LOOP;
  CLOSE c_heavy;
  FOR r_all IN c_heavy(0, 'Gull') LOOP
    UPDATE moorings SET visits = visits + 100 WHERE id = r_all.mooring_id;
  END LOOP;
END;
/
CREATE OR REPLACE PROCEDURE note_record IS
  TYPE t_note IS RECORD (id NUMBER(10), name VARCHAR2(40));
  v_note t_note;
BEGIN
  v_note.id := 7;
  v_note.name := 'Buoy';
  INSERT INTO moorings (id, name) VALUES (v_note.id, v_note.name);
END;
/
CREATE OR REPLACE FUNCTION tons_at (p_mooring IN NUMBER) RETURN NUMBER IS
  v_tons NUMBER;
BEGIN
  EXECUTE IMMEDIATE 'SELECT NVL(SUM(tons), 0) FROM arrivals WHERE mooring_id = :m AND tons < :t' INTO v_tons USING p_mooring, 90 + 9;
  RETURN v_tons;
END;
/
CREATE OR REPLACE PROCEDURE rename_mooring (p_id IN NUMBER, p_name IN VARCHAR2) IS
BEGIN
  EXECUTE IMMEDIATE 'UPDATE moorings SET name = :name WHERE id = :id' USING p_name, p_id;
END;
/
CREATE OR REPLACE PROCEDURE take_over (p_id IN NUMBER, p_name IN VARCHAR2) IS
BEGIN
  MERGE INTO moorings m USING (SELECT p_id AS id, p_name AS name FROM dual) s ON (m.id = s.id)
  WHEN MATCHED THEN UPDATE SET m.name = s.name, m.visits = m.visits + 1 WHERE m.depth IS NOT NULL
  WHEN NOT MATCHED THEN INSERT (id, name, depth) VALUES (s.id, s.name, 3);
END;
/
CREATE OR REPLACE FUNCTION first_over (p_limit IN NUMBER) RETURN NUMBER IS
  v_sum NUMBER(9) := 0;
BEGIN
  <<rows_of_sums>>
  FOR i IN 1 .. 10 LOOP
    FOR j IN 1 .. 10 LOOP
      v_sum := v_sum + j;
      EXIT rows_of_sums WHEN v_sum > p_limit;
      EXIT WHEN j = 3;
    END LOOP;
  END LOOP;
  RETURN v_sum;
END;
/
CREATE OR REPLACE PROCEDURE lighten (p_mooring IN NUMBER, p_by IN NUMBER) IS
  CURSOR c (m NUMBER, least NUMBER DEFAULT 30) IS SELECT id, tons FROM arrivals WHERE mooring_id = m AND tons > least FOR UPDATE OF tons;
BEGIN
  FOR r IN c(p_mooring) LOOP
    IF r.tons > 90 THEN
      DELETE FROM arrivals WHERE CURRENT OF c;
    ELSE
      UPDATE arrivals a SET a.tons = r.tons - p_by WHERE CURRENT OF c;
    END IF;
  END LOOP;
END;
/
CREATE OR REPLACE PROCEDURE rename_ships (p_mark IN VARCHAR2) IS
  CURSOR c IS SELECT id, ship FROM arrivals FOR UPDATE;
  v_id arrivals.id%TYPE;
  v_ship arrivals.ship%TYPE;
BEGIN
  OPEN c;
  LOOP
    FETCH c INTO v_id, v_ship;
    EXIT WHEN c%NOTFOUND;
    UPDATE arrivals SET ship = UPPER(v_ship) || p_mark WHERE CURRENT OF c;
  END LOOP;
  CLOSE c;
END;
/
