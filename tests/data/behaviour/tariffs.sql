-- The tariff office of Kestrel Bay in PL/SQL, as a shop wrote it over the years.
-- Each case stands before its routine: what it gives, leaves or refuses on Oracle.
-- row ports: {"port_id": 1, "port_name": "Kestrel Bay", "parent_id": None, "zone": "N", "opened": "1990-03-01 00:00:00"}
-- row ports: {"port_id": 2, "port_name": "Quay East", "parent_id": 1, "zone": "N", "opened": "2001-07-15 06:30:00"}
-- row ports: {"port_id": 3, "port_name": "Quay West", "parent_id": 1, "zone": "S", "opened": None}
-- row ports: {"port_id": 4, "port_name": "Slip", "parent_id": 2, "zone": "S", "opened": "2020-02-29 12:00:00"}
-- row rates: {"rate_code": "BASE", "amount": "100", "zone": "N", "valid_from": "2023-01-01 00:00:00", "valid_to": None}
-- row rates: {"rate_code": "NIGHT", "amount": "25.5", "zone": "N", "valid_from": "2023-06-01 00:00:00", "valid_to": "2023-12-31 00:00:00"}
-- row rates: {"rate_code": "STORM", "amount": "12.25", "zone": "S", "valid_from": "2022-01-01 00:00:00", "valid_to": None}
-- row calls: {"call_id": 10, "port_id": 2, "ship": "Tern", "tons": "120.5", "hours": "6", "status": "OPEN", "arrived": "2024-05-01 06:00:00"}
-- row calls: {"call_id": 11, "port_id": 2, "ship": "Otter", "tons": "80", "hours": "2.5", "status": "PAID", "arrived": "2024-05-02 18:30:00"}
-- row calls: {"call_id": 12, "port_id": 3, "ship": "Lark", "tons": None, "hours": "4", "status": "OPEN", "arrived": "2024-04-30 23:59:59"}
-- row calls: {"call_id": 13, "port_id": 4, "ship": "Tern", "tons": "120.5", "hours": "1", "status": "VOID", "arrived": "2023-12-31 12:00:00"}
-- row bills: {"bill_id": 1, "call_id": 11, "total": "180", "paid_on": "2024-05-03 00:00:00"}
CREATE TABLE ports (
  port_id    NUMBER(6)     NOT NULL,
  port_name  VARCHAR2(40)  NOT NULL,
  parent_id  NUMBER(6),
  zone       CHAR(1)       DEFAULT 'N' NOT NULL,
  opened     DATE,
  CONSTRAINT ports_pk PRIMARY KEY (port_id),
  CONSTRAINT ports_parent_fk FOREIGN KEY (parent_id) REFERENCES ports (port_id),
  CONSTRAINT ports_zone_ck CHECK (zone IN ('N', 'S'))
);
CREATE TABLE rates (
  rate_code  VARCHAR2(10) CONSTRAINT rates_pk PRIMARY KEY,
  amount     NUMBER(10,2) NOT NULL,
  zone       CHAR(1) DEFAULT 'N',
  valid_from DATE DEFAULT SYSDATE NOT NULL,
  valid_to   DATE
);
CREATE TABLE calls (
  call_id  NUMBER PRIMARY KEY,
  port_id  NUMBER(6) NOT NULL REFERENCES ports,
  ship     VARCHAR2(30) NOT NULL,
  tons     NUMBER(8,1),
  hours    NUMBER(6,2) DEFAULT 0,
  status   VARCHAR2(4) DEFAULT 'OPEN',
  arrived  DATE DEFAULT SYSDATE,
  CONSTRAINT calls_status_ck CHECK (status IN ('OPEN','PAID','VOID'))
);
CREATE INDEX calls_ship_ix ON calls (UPPER(ship));
CREATE TABLE bills (
  bill_id  NUMBER NOT NULL,
  call_id  NUMBER NOT NULL,
  total    NUMBER(12,2),
  paid_on  DATE,
  note     VARCHAR2(200),
  CONSTRAINT bills_pk PRIMARY KEY (bill_id),
  CONSTRAINT bills_call_uk UNIQUE (call_id),
  CONSTRAINT bills_call_fk FOREIGN KEY (call_id) REFERENCES calls (call_id) ON DELETE CASCADE
);
CREATE TABLE journal (
  entry_id  NUMBER,
  what      VARCHAR2(200),
  amount    NUMBER,
  made_by   VARCHAR2(30),
  made_at   TIMESTAMP
);
CREATE SEQUENCE bills_seq START WITH 100 INCREMENT BY 1 NOCACHE;
CREATE SEQUENCE journal_seq;

CREATE OR REPLACE TRIGGER journal_bi BEFORE INSERT ON journal FOR EACH ROW
BEGIN
  IF :NEW.entry_id IS NULL THEN
    SELECT journal_seq.NEXTVAL INTO :NEW.entry_id FROM dual;
  END IF;
  :NEW.made_at := SYSTIMESTAMP;
END;
/

-- functions on their own

-- gives net_of(121, 21): 100
-- gives net_of(None, 21): None
CREATE OR REPLACE FUNCTION net_of (p_gross IN NUMBER, p_rate IN NUMBER DEFAULT 21) RETURN NUMBER DETERMINISTIC
IS
BEGIN
  RETURN ROUND(p_gross / (1 + p_rate / 100), 2);
END net_of;
/
-- gives net_default(121): 100
CREATE OR REPLACE FUNCTION net_default(p_gross NUMBER) RETURN NUMBER AS
BEGIN
  RETURN net_of(p_gross => p_gross);
END;
/
-- gives size_class(None): 'unknown'
-- gives size_class(50): 'small'
-- gives size_class(100): 'medium'
-- gives size_class(5000): 'large'
CREATE OR REPLACE FUNCTION size_class(p_tons IN calls.tons%TYPE) RETURN VARCHAR2 IS
  l_class VARCHAR2(10);
BEGIN
  CASE
    WHEN p_tons IS NULL THEN l_class := 'unknown';
    WHEN p_tons < 100 THEN l_class := 'small';
    WHEN p_tons BETWEEN 100 AND 999 THEN l_class := 'medium';
    ELSE l_class := 'large';
  END CASE;
  RETURN l_class;
END;
/
-- gives port_name_of(2): 'Quay East'
-- gives port_name_of(77): '?'
CREATE OR REPLACE FUNCTION port_name_of(p_id ports.port_id%TYPE) RETURN ports.port_name%TYPE IS
  v_name ports.port_name%TYPE;
BEGIN
  SELECT port_name INTO v_name FROM ports WHERE port_id = p_id;
  RETURN v_name;
EXCEPTION
  WHEN NO_DATA_FOUND THEN RETURN '?';
END port_name_of;
/
-- gives rate_on('BASE', '2024-01-01'): 100
-- gives rate_on('NIGHT', '2024-01-01'): 0
-- gives rate_on('NIGHT', '2023-07-01'): 25.5
CREATE OR REPLACE FUNCTION rate_on(p_code VARCHAR2, p_day DATE) RETURN NUMBER IS
  CURSOR c_rate IS
    SELECT amount FROM rates
     WHERE rate_code = p_code
       AND p_day >= valid_from
       AND p_day < NVL(valid_to, p_day + 1);
  l_amount NUMBER := 0;
BEGIN
  OPEN c_rate;
  FETCH c_rate INTO l_amount;
  IF c_rate%NOTFOUND THEN
    l_amount := 0;
  END IF;
  CLOSE c_rate;
  RETURN l_amount;
END;
/
-- gives path_of(4): 'Kestrel Bay/Quay East/Slip'
CREATE OR REPLACE FUNCTION path_of(p_id NUMBER) RETURN VARCHAR2 IS
  l_path VARCHAR2(400);
  l_id   NUMBER := p_id;
  l_row  ports%ROWTYPE;
BEGIN
  WHILE l_id IS NOT NULL LOOP
    SELECT * INTO l_row FROM ports WHERE port_id = l_id;
    IF l_path IS NULL THEN
      l_path := l_row.port_name;
    ELSE
      l_path := l_row.port_name || '/' || l_path;
    END IF;
    l_id := l_row.parent_id;
  END LOOP;
  RETURN l_path;
END;
/
-- gives tons_of('Tern'): 241
-- gives tons_of('Nobody'): 0
CREATE OR REPLACE FUNCTION tons_of(p_ship VARCHAR2) RETURN NUMBER IS
  l_sum NUMBER;
BEGIN
  SELECT SUM(tons) INTO l_sum FROM calls WHERE UPPER(ship) = UPPER(p_ship);
  RETURN NVL(l_sum, 0);
END;
/
-- gives ship_list(2): 'Otter, Tern'
-- gives ship_list(1): None
CREATE OR REPLACE FUNCTION ship_list(p_port NUMBER) RETURN VARCHAR2 IS
  l_out VARCHAR2(4000);
BEGIN
  FOR r IN (SELECT ship FROM calls WHERE port_id = p_port ORDER BY ship) LOOP
    l_out := l_out || CASE WHEN l_out IS NOT NULL THEN ', ' END || r.ship;
  END LOOP;
  RETURN l_out;
END;
/
-- gives days_late('2024-05-10', '2024-05-13 12:00:00'): 3
-- gives days_late('2024-05-10', '2024-05-01'): 0
CREATE OR REPLACE FUNCTION days_late(p_due DATE, p_paid DATE) RETURN PLS_INTEGER IS
BEGIN
  RETURN GREATEST(TRUNC(p_paid - p_due), 0);
END;
/
-- gives next_quarter('2024-05-17'): '2024-07-01'
CREATE OR REPLACE FUNCTION next_quarter(p_day DATE) RETURN DATE IS
BEGIN
  RETURN ADD_MONTHS(TRUNC(p_day, 'Q'), 3);
END;
/
-- gives month_key('2024-05-17'): '2024-05'
CREATE OR REPLACE FUNCTION month_key(p_day DATE) RETURN VARCHAR2 IS
BEGIN
  RETURN TO_CHAR(p_day, 'YYYY-MM');
END;
/
-- gives is_weekend('2024-05-18'): 1
-- gives is_weekend('2024-05-17'): 0
CREATE OR REPLACE FUNCTION is_weekend(p_day DATE) RETURN NUMBER IS
BEGIN
  IF TO_CHAR(p_day, 'D') IN ('1', '7') THEN
    RETURN 1;
  END IF;
  RETURN 0;
END;
/
-- gives hours_between('2024-05-17 06:00:00', '2024-05-17 20:30:00'): 14.5
CREATE OR REPLACE FUNCTION hours_between(p_from DATE, p_to DATE) RETURN NUMBER IS
BEGIN
  RETURN ROUND((p_to - p_from) * 24, 2);
END;
/
-- gives initials('kestrel bay'): 'KB'
CREATE OR REPLACE FUNCTION initials(p_text VARCHAR2) RETURN VARCHAR2 IS
  l_res VARCHAR2(20);
  l_prev CHAR(1) := ' ';
BEGIN
  FOR i IN 1 .. LENGTH(p_text) LOOP
    IF l_prev = ' ' THEN
      l_res := l_res || UPPER(SUBSTR(p_text, i, 1));
    END IF;
    l_prev := SUBSTR(p_text, i, 1);
  END LOOP;
  RETURN l_res;
END;
/
-- gives count_words('a bc  d'): 3
CREATE OR REPLACE FUNCTION count_words(p_text VARCHAR2) RETURN NUMBER IS
BEGIN
  RETURN NVL(LENGTH(TRIM(REGEXP_REPLACE(p_text, ' +', ' '))), 0) - NVL(LENGTH(REPLACE(p_text, ' ', '')), 0) + 1;
END;
/
-- gives nth_part('a;b;c', 2): 'b'
-- gives nth_part('a;b;c', 5): None
CREATE OR REPLACE FUNCTION nth_part(p_text VARCHAR2, p_n NUMBER) RETURN VARCHAR2 IS
  l_from PLS_INTEGER;
  l_to   PLS_INTEGER;
  l_text VARCHAR2(4000) := ';' || p_text || ';';
BEGIN
  l_from := INSTR(l_text, ';', 1, p_n);
  l_to := INSTR(l_text, ';', 1, p_n + 1);
  IF l_to = 0 THEN
    RETURN NULL;
  END IF;
  RETURN SUBSTR(l_text, l_from + 1, l_to - l_from - 1);
END;
/
-- gives fact(5): 120
CREATE OR REPLACE FUNCTION fact(n IN PLS_INTEGER) RETURN NUMBER IS
BEGIN
  IF n <= 1 THEN RETURN 1; END IF;
  RETURN n * fact(n - 1);
END;
/
-- gives fib(10): 55
CREATE OR REPLACE FUNCTION fib(p_n PLS_INTEGER) RETURN NUMBER IS
  a NUMBER := 0;
  b NUMBER := 1;
  t NUMBER;
BEGIN
  FOR i IN 1 .. p_n LOOP
    t := a + b;
    a := b;
    b := t;
  END LOOP;
  RETURN a;
END;
/
-- gives gcd_of(12, 18): 6
CREATE OR REPLACE FUNCTION gcd_of(a NUMBER, b NUMBER) RETURN NUMBER IS
  x NUMBER := a;
  y NUMBER := b;
BEGIN
  LOOP
    EXIT WHEN y = 0;
    DECLARE
      r NUMBER := MOD(x, y);
    BEGIN
      x := y;
      y := r;
    END;
  END LOOP;
  RETURN x;
END;
/
-- gives safe_div(1, 0): None
-- gives safe_div(6, 3): 2
CREATE OR REPLACE FUNCTION safe_div(a NUMBER, b NUMBER) RETURN NUMBER IS
BEGIN
  RETURN a / b;
EXCEPTION
  WHEN ZERO_DIVIDE THEN
    RETURN NULL;
END;
/
-- gives to_num('12.5'): 12.5
-- gives to_num('abc'): -1
CREATE OR REPLACE FUNCTION to_num(p VARCHAR2) RETURN NUMBER IS
BEGIN
  RETURN TO_NUMBER(p);
EXCEPTION
  WHEN VALUE_ERROR THEN RETURN -1;
  WHEN OTHERS THEN RETURN -1;
END;
/
-- gives sum_list(): 60
CREATE OR REPLACE FUNCTION sum_list RETURN NUMBER IS
  TYPE t_nums IS TABLE OF NUMBER INDEX BY PLS_INTEGER;
  l_nums t_nums;
  l_sum  NUMBER := 0;
BEGIN
  l_nums(1) := 10;
  l_nums(2) := 20;
  l_nums(3) := 30;
  FOR i IN l_nums.FIRST .. l_nums.LAST LOOP
    l_sum := l_sum + l_nums(i);
  END LOOP;
  RETURN l_sum;
END;
/
-- gives nested_list(): 'a-b-c 3'
CREATE OR REPLACE FUNCTION nested_list RETURN VARCHAR2 IS
  TYPE t_names IS TABLE OF VARCHAR2(10);
  l_names t_names := t_names('a', 'b');
  l_out VARCHAR2(100);
BEGIN
  l_names.EXTEND;
  l_names(l_names.COUNT) := 'c';
  FOR i IN 1 .. l_names.COUNT LOOP
    IF i > 1 THEN l_out := l_out || '-'; END IF;
    l_out := l_out || l_names(i);
  END LOOP;
  RETURN l_out || ' ' || l_names.COUNT;
END;
/
-- gives bulk_ships(): 'Lark,Otter,Tern,Tern'
CREATE OR REPLACE FUNCTION bulk_ships RETURN VARCHAR2 IS
  TYPE t_ships IS TABLE OF calls.ship%TYPE INDEX BY BINARY_INTEGER;
  l_ships t_ships;
  l_out VARCHAR2(400);
BEGIN
  SELECT ship BULK COLLECT INTO l_ships FROM calls ORDER BY ship;
  FOR i IN 1 .. l_ships.COUNT LOOP
    l_out := l_out || ',' || l_ships(i);
  END LOOP;
  RETURN LTRIM(l_out, ',');
END;
/
-- gives map_zone('S'): 'south'
-- gives map_zone('X'): 'none'
CREATE OR REPLACE FUNCTION map_zone(p_zone VARCHAR2) RETURN VARCHAR2 IS
  TYPE t_map IS TABLE OF VARCHAR2(20) INDEX BY VARCHAR2(10);
  l_map t_map;
BEGIN
  l_map('N') := 'north';
  l_map('S') := 'south';
  IF l_map.EXISTS(p_zone) THEN
    RETURN l_map(p_zone);
  END IF;
  RETURN 'none';
END;
/
-- gives tree_depth(): 3
CREATE OR REPLACE FUNCTION tree_depth RETURN NUMBER IS
  l_depth NUMBER;
BEGIN
  SELECT MAX(LEVEL) INTO l_depth FROM ports START WITH parent_id IS NULL CONNECT BY PRIOR port_id = parent_id;
  RETURN l_depth;
END;
/
-- gives record_use(2): 'Quay East/N'
CREATE OR REPLACE FUNCTION record_use(p_id NUMBER) RETURN VARCHAR2 IS
  TYPE t_rec IS RECORD (name VARCHAR2(40), zone CHAR(1));
  l_rec t_rec;
BEGIN
  SELECT port_name, zone INTO l_rec FROM ports WHERE port_id = p_id;
  RETURN l_rec.name || '/' || l_rec.zone;
END;
/
-- gives outer_old(): 'Kestrel Bay:0 Quay East:2 Quay West:1 Slip:1 '
CREATE OR REPLACE FUNCTION outer_old RETURN VARCHAR2 IS
  l_out VARCHAR2(1000);
BEGIN
  FOR r IN (SELECT p.port_name, COUNT(c.call_id) n
              FROM ports p, calls c
             WHERE p.port_id = c.port_id(+)
             GROUP BY p.port_name
             ORDER BY p.port_name)
  LOOP
    l_out := l_out || r.port_name || ':' || r.n || ' ';
  END LOOP;
  RETURN l_out;
END;
/
-- gives top_ship(): 'Tern'
CREATE OR REPLACE FUNCTION top_ship RETURN VARCHAR2 IS
  l_ship calls.ship%TYPE;
BEGIN
  SELECT ship INTO l_ship FROM (SELECT ship, SUM(tons) t FROM calls GROUP BY ship ORDER BY t DESC NULLS LAST) WHERE ROWNUM = 1;
  RETURN l_ship;
END;
/
-- gives decode_status(10): 'open (Y)'
-- gives decode_status(13): 'void (N)'
CREATE OR REPLACE FUNCTION decode_status(p_id NUMBER) RETURN VARCHAR2 IS
  l VARCHAR2(30);
BEGIN
  SELECT DECODE(status, 'OPEN', 'open', 'PAID', 'paid', LOWER(status)) || ' (' || NVL2(NULLIF(status, 'VOID'), 'Y', 'N') || ')'
    INTO l FROM calls WHERE call_id = p_id;
  RETURN l;
END;
/
-- gives exists_call('Lark'): 1
-- gives exists_call('Gull'): 0
CREATE OR REPLACE FUNCTION exists_call(p_ship VARCHAR2) RETURN NUMBER IS
  l_n PLS_INTEGER;
BEGIN
  SELECT 1 INTO l_n FROM dual WHERE EXISTS (SELECT NULL FROM calls WHERE ship = p_ship);
  RETURN l_n;
EXCEPTION WHEN NO_DATA_FOUND THEN
  RETURN 0;
END;
/
-- gives cursor_param(): 'N=2 S=2 '
CREATE OR REPLACE FUNCTION cursor_param RETURN VARCHAR2 IS
  CURSOR c_ports (cp_zone VARCHAR2) IS SELECT port_name FROM ports WHERE zone = cp_zone;
  l_out VARCHAR2(100);
  l_n NUMBER;
BEGIN
  FOR z IN (SELECT DISTINCT zone FROM ports ORDER BY zone) LOOP
    l_n := 0;
    FOR p IN c_ports(z.zone) LOOP
      l_n := l_n + 1;
    END LOOP;
    l_out := l_out || z.zone || '=' || l_n || ' ';
  END LOOP;
  RETURN l_out;
END;
/
-- gives labels(): 5
CREATE OR REPLACE FUNCTION labels RETURN NUMBER IS
  l_n NUMBER := 0;
BEGIN
  <<outer_loop>>
  FOR i IN 1 .. 5 LOOP
    FOR j IN 1 .. 5 LOOP
      EXIT outer_loop WHEN i * j > 6;
      CONTINUE WHEN MOD(j, 2) = 0;
      l_n := l_n + 1;
    END LOOP;
  END LOOP outer_loop;
  RETURN l_n;
END;
/
-- gives too_many(): 'many'
CREATE OR REPLACE FUNCTION too_many RETURN VARCHAR2 IS
  l calls.ship%TYPE;
BEGIN
  SELECT ship INTO l FROM calls;
  RETURN l;
EXCEPTION
  WHEN TOO_MANY_ROWS THEN RETURN 'many';
  WHEN NO_DATA_FOUND THEN RETURN 'none';
END;
/
-- gives own_error(5): 'fine'
-- gives own_error(-5): 'below'
-- gives own_error(500): 'above: too dear -20010'
CREATE OR REPLACE FUNCTION own_error(p NUMBER) RETURN VARCHAR2 IS
  e_below EXCEPTION;
  e_above EXCEPTION;
  PRAGMA EXCEPTION_INIT(e_above, -20010);
BEGIN
  IF p < 0 THEN RAISE e_below; END IF;
  IF p > 100 THEN RAISE_APPLICATION_ERROR(-20010, 'too dear'); END IF;
  RETURN 'fine';
EXCEPTION
  WHEN e_below THEN RETURN 'below';
  WHEN e_above THEN RETURN 'above: ' || 'too dear' || ' ' || -20010;
END;
/
-- gives analytic(): 'Otter1Tern2'
CREATE OR REPLACE FUNCTION analytic RETURN VARCHAR2 IS
  l VARCHAR2(100);
BEGIN
  FOR r IN (SELECT ship, ROW_NUMBER() OVER (PARTITION BY port_id ORDER BY arrived DESC) rn FROM calls WHERE port_id = 2 ORDER BY 2) LOOP
    l := l || r.ship || r.rn;
  END LOOP;
  RETURN l;
END;
/
-- gives with_clause(): 3
CREATE OR REPLACE FUNCTION with_clause RETURN NUMBER IS
  l NUMBER;
BEGIN
  WITH open_calls AS (SELECT call_id FROM calls WHERE status = 'OPEN'),
       paid_calls AS (SELECT call_id FROM calls WHERE status = 'PAID')
  SELECT COUNT(*) INTO l FROM (SELECT * FROM open_calls UNION ALL SELECT * FROM paid_calls);
  RETURN l;
END;
/
-- gives minus_count(): 3
CREATE OR REPLACE FUNCTION minus_count RETURN NUMBER IS
  l NUMBER;
BEGIN
  SELECT COUNT(*) INTO l FROM (SELECT call_id FROM calls MINUS SELECT call_id FROM bills);
  RETURN l;
END;
/
-- gives keep_first(): 'Tern'
CREATE OR REPLACE FUNCTION keep_first RETURN VARCHAR2 IS
  l VARCHAR2(30);
BEGIN
  SELECT MAX(ship) KEEP (DENSE_RANK FIRST ORDER BY arrived) INTO l FROM calls;
  RETURN l;
END;
/
-- gives ref_total(): 12
CREATE OR REPLACE FUNCTION open_calls_cursor RETURN SYS_REFCURSOR IS
  l_cur SYS_REFCURSOR;
BEGIN
  OPEN l_cur FOR SELECT hours FROM calls WHERE status <> 'VOID' AND hours > 2.5 ORDER BY 1;
  RETURN l_cur;
END;
/
CREATE OR REPLACE FUNCTION ref_total RETURN NUMBER IS
  l_cur SYS_REFCURSOR;
  l_h NUMBER;
  l_sum NUMBER := 2;
BEGIN
  l_cur := open_calls_cursor();
  LOOP
    FETCH l_cur INTO l_h;
    EXIT WHEN l_cur%NOTFOUND;
    l_sum := l_sum + l_h;
  END LOOP;
  CLOSE l_cur;
  RETURN l_sum;
END;
/

-- procedures

-- leaves log_it('hello', 5); SELECT what, amount, made_by FROM journal: [('hello', 5, 'office')]
CREATE OR REPLACE PROCEDURE log_it(p_what VARCHAR2, p_amount NUMBER := NULL) IS
BEGIN
  INSERT INTO journal (what, amount, made_by) VALUES (SUBSTR(p_what, 1, 200), p_amount, 'office');
END log_it;
/
-- leaves make_bill(10, None); SELECT bill_id >= 100, total FROM bills WHERE call_id = 10: [(True, '600')]
-- fails make_bill(99, None): no call 99
-- fails make_bill(13, None): call 13 is void
CREATE OR REPLACE PROCEDURE make_bill(p_call IN calls.call_id%TYPE, p_bill OUT bills.bill_id%TYPE) AS
  l_call calls%ROWTYPE;
  l_total bills.total%TYPE;
BEGIN
  BEGIN
    SELECT * INTO l_call FROM calls WHERE call_id = p_call FOR UPDATE;
  EXCEPTION
    WHEN NO_DATA_FOUND THEN
      RAISE_APPLICATION_ERROR(-20001, 'no call ' || p_call);
  END;
  IF l_call.status = 'VOID' THEN
    RAISE_APPLICATION_ERROR(-20002, 'call ' || TO_CHAR(p_call) || ' is void');
  END IF;
  l_total := l_call.hours * rate_on('BASE', l_call.arrived);
  INSERT INTO bills (bill_id, call_id, total) VALUES (bills_seq.NEXTVAL, p_call, l_total) RETURNING bill_id INTO p_bill;
  UPDATE calls SET status = 'PAID' WHERE call_id = p_call;
END make_bill;
/
-- leaves bill_all(); SELECT what, amount FROM journal WHERE amount > 0: [('billed', 2)]
-- leaves bill_all(); SELECT call_id FROM bills ORDER BY 1: [(10,), (11,), (12,)]
CREATE OR REPLACE PROCEDURE bill_all IS
  l_bill NUMBER;
  l_n PLS_INTEGER := 0;
BEGIN
  FOR r IN (SELECT call_id FROM calls WHERE status = 'OPEN' ORDER BY call_id) LOOP
    BEGIN
      make_bill(r.call_id, l_bill);
      l_n := l_n + 1;
    EXCEPTION
      WHEN DUP_VAL_ON_INDEX THEN
        log_it('twice: ' || r.call_id);
    END;
  END LOOP;
  log_it('billed', l_n);
END;
/
-- leaves void_old('2024-01-15'); SELECT call_id, status FROM calls WHERE status = 'VOID' ORDER BY 1: [(13, 'VOID')]
-- leaves void_old('2024-05-01'); SELECT what, amount FROM journal WHERE amount > 0: [('voided', 1)]
CREATE OR REPLACE PROCEDURE void_old(p_before DATE) IS
BEGIN
  UPDATE calls SET status = 'VOID' WHERE arrived < TRUNC(p_before) AND status = 'OPEN';
  IF SQL%ROWCOUNT > 0 THEN
    log_it('voided', SQL%ROWCOUNT);
  END IF;
END;
/
-- leaves forall_raise(10); SELECT rate_code, amount FROM rates ORDER BY 1: [('BASE', '110'), ('NIGHT', '28.05'), ('STORM', '13.48')]
CREATE OR REPLACE PROCEDURE forall_raise(p_percent NUMBER) IS
  TYPE t_codes IS TABLE OF rates.rate_code%TYPE;
  l_codes t_codes;
BEGIN
  SELECT rate_code BULK COLLECT INTO l_codes FROM rates;
  FORALL i IN 1 .. l_codes.COUNT
    UPDATE rates SET amount = ROUND(amount * (1 + p_percent / 100), 2) WHERE rate_code = l_codes(i);
END;
/
-- leaves merge_rate('BASE', 120); SELECT amount FROM rates WHERE rate_code = 'BASE': [('120',)]
-- leaves merge_rate('FOG', 9); SELECT amount, zone FROM rates WHERE rate_code = 'FOG': [('9', 'N')]
CREATE OR REPLACE PROCEDURE merge_rate(p_code VARCHAR2, p_amount NUMBER) IS
BEGIN
  MERGE INTO rates r
  USING (SELECT p_code AS code, p_amount AS amount FROM dual) s
  ON (r.rate_code = s.code)
  WHEN MATCHED THEN UPDATE SET r.amount = s.amount
  WHEN NOT MATCHED THEN INSERT (rate_code, amount, valid_from) VALUES (s.code, s.amount, DATE '2024-01-01');
END;
/
-- leaves cursor_update(); SELECT call_id, hours FROM calls WHERE port_id = 2 ORDER BY 1: [(10, '7'), (11, '3.5')]
CREATE OR REPLACE PROCEDURE cursor_update IS
  CURSOR c IS SELECT call_id, hours FROM calls WHERE port_id = 2 FOR UPDATE OF hours;
BEGIN
  FOR r IN c LOOP
    UPDATE calls SET hours = r.hours + 1 WHERE CURRENT OF c;
  END LOOP;
END;
/
-- leaves delete_returning(11); SELECT what, amount FROM journal: [('bill gone', 180)]
CREATE OR REPLACE PROCEDURE delete_returning(p_call NUMBER) IS
  l_total NUMBER;
BEGIN
  DELETE FROM bills WHERE call_id = p_call RETURNING total INTO l_total;
  IF SQL%FOUND THEN
    log_it('bill gone', l_total);
  ELSE
    log_it('no bill');
  END IF;
END;
/
-- leaves dynamic_delete('JOURNAL'); SELECT count(*) FROM journal: [(0,)]
CREATE OR REPLACE PROCEDURE dynamic_delete(p_table VARCHAR2) IS
BEGIN
  log_it('before');
  EXECUTE IMMEDIATE 'DELETE FROM ' || p_table || ' WHERE 1 = 1';
END;
/
-- gives dynamic_count('N', None): [2]
CREATE OR REPLACE PROCEDURE dynamic_count(p_zone VARCHAR2, p_n OUT NUMBER) IS
  l_sql VARCHAR2(400);
BEGIN
  l_sql := 'SELECT COUNT(*) FROM ports WHERE zone = :z AND NVL(parent_id, 0) >= :p';
  EXECUTE IMMEDIATE l_sql INTO p_n USING p_zone, 0;
END;
/
-- gives out_all(2, None, None, None): ['Quay East', 'N', 2]
CREATE OR REPLACE PROCEDURE out_all(p_id IN NUMBER, p_name OUT VARCHAR2, p_zone OUT VARCHAR2, p_calls OUT NUMBER) IS
BEGIN
  SELECT p.port_name, p.zone, (SELECT COUNT(*) FROM calls c WHERE c.port_id = p.port_id)
    INTO p_name, p_zone, p_calls
    FROM ports p WHERE p.port_id = p_id;
END;
/
-- leaves use_out(); SELECT what FROM journal: [('Quay West S 1',)]
CREATE OR REPLACE PROCEDURE use_out IS
  a VARCHAR2(40); b VARCHAR2(1); n NUMBER;
BEGIN
  out_all(p_id => 3, p_name => a, p_zone => b, p_calls => n);
  log_it(a || ' ' || b || ' ' || n);
END;
/
-- gives swap(1, 2): [2, 1]
CREATE OR REPLACE PROCEDURE swap(a IN OUT NUMBER, b IN OUT NUMBER) IS
  t NUMBER := a;
BEGIN
  a := b;
  b := t;
END;
/
-- leaves local_routines(3); SELECT what, amount FROM journal ORDER BY amount: [('square', 9), ('cube', 27)]
CREATE OR REPLACE PROCEDURE local_routines(n NUMBER) IS
  FUNCTION square(x NUMBER) RETURN NUMBER IS
  BEGIN
    RETURN x * x;
  END;
BEGIN
  log_it('square', square(n));
  log_it('cube', square(n) * n);
END;
/
-- leaves catch_all(); SELECT what FROM journal: [('caught: no data found',)]
CREATE OR REPLACE PROCEDURE catch_all IS
  l NUMBER;
BEGIN
  SELECT call_id INTO l FROM calls WHERE call_id = -1;
EXCEPTION
  WHEN OTHERS THEN
    log_it('caught: ' || CASE SQLCODE WHEN 100 THEN 'no data found' ELSE 'other' END);
END;
/
-- fails reraise(): broken
CREATE OR REPLACE PROCEDURE reraise IS
BEGIN
  RAISE_APPLICATION_ERROR(-20099, 'broken');
EXCEPTION
  WHEN OTHERS THEN
    log_it(SQLERRM);
    RAISE;
END;
/
-- leaves savepoints(); SELECT what FROM journal: [('kept',)]
CREATE OR REPLACE PROCEDURE savepoints IS
BEGIN
  log_it('kept');
  SAVEPOINT before_more;
  BEGIN
    log_it('gone');
    RAISE NO_DATA_FOUND;
  EXCEPTION
    WHEN NO_DATA_FOUND THEN ROLLBACK TO before_more;
  END;
END;
/
-- leaves insert_select(); SELECT what, amount FROM journal ORDER BY amount: [('Otter', 80), ('Tern', 120.5)]
CREATE OR REPLACE PROCEDURE insert_select IS
BEGIN
  INSERT INTO journal (entry_id, what, amount)
  SELECT journal_seq.NEXTVAL, ship, tons FROM calls WHERE port_id = (SELECT MIN(port_id) FROM calls) AND tons IS NOT NULL;
END;
/
-- leaves update_subquery(); SELECT bill_id, note FROM bills: [(1, 'Otter 2024-05-02')]
CREATE OR REPLACE PROCEDURE update_subquery IS
BEGIN
  UPDATE bills b
     SET note = (SELECT c.ship || ' ' || TO_CHAR(c.arrived, 'YYYY-MM-DD') FROM calls c WHERE c.call_id = b.call_id)
   WHERE EXISTS (SELECT 1 FROM calls c WHERE c.call_id = b.call_id);
END;
/
-- leaves tuple_update(); SELECT port_name, zone FROM ports WHERE port_id = 4: [('Quay East', 'N')]
CREATE OR REPLACE PROCEDURE tuple_update IS
BEGIN
  UPDATE ports p SET (port_name, zone) = (SELECT q.port_name, q.zone FROM ports q WHERE q.port_id = p.parent_id)
   WHERE p.port_id = 4;
END;
/

-- packages

CREATE OR REPLACE PACKAGE tariff_api AS
  c_max_hours CONSTANT NUMBER := 24;
  g_calls PLS_INTEGER := 0;
  e_too_long EXCEPTION;
  TYPE t_line IS RECORD (code VARCHAR2(10), amount NUMBER);
  FUNCTION price(p_hours NUMBER, p_zone VARCHAR2 DEFAULT 'N') RETURN NUMBER;
  FUNCTION price(p_call NUMBER) RETURN NUMBER;
  PROCEDURE count_call;
  FUNCTION calls_so_far RETURN PLS_INTEGER;
  PROCEDURE set_rebate(p_rebate NUMBER);
  FUNCTION with_rebate(p_amount NUMBER) RETURN NUMBER;
END tariff_api;
/
CREATE OR REPLACE PACKAGE BODY tariff_api AS
  g_rebate NUMBER := 0;
  g_last VARCHAR2(30);

  FUNCTION base_rate(p_zone VARCHAR2) RETURN NUMBER IS
    l NUMBER;
  BEGIN
    SELECT MAX(amount) INTO l FROM rates WHERE zone = p_zone;
    RETURN NVL(l, 0);
  END base_rate;

  FUNCTION price(p_hours NUMBER, p_zone VARCHAR2 DEFAULT 'N') RETURN NUMBER IS
  BEGIN
    IF p_hours > c_max_hours THEN
      RAISE e_too_long;
    END IF;
    g_last := p_zone;
    RETURN p_hours * base_rate(p_zone);
  END price;

  FUNCTION price(p_call NUMBER) RETURN NUMBER IS
    l_hours calls.hours%TYPE;
    l_zone  ports.zone%TYPE;
  BEGIN
    SELECT c.hours, p.zone INTO l_hours, l_zone FROM calls c JOIN ports p ON p.port_id = c.port_id WHERE c.call_id = p_call;
    RETURN price(l_hours, l_zone);
  END price;

  PROCEDURE count_call IS
  BEGIN
    g_calls := g_calls + 1;
  END;

  FUNCTION calls_so_far RETURN PLS_INTEGER IS
  BEGIN
    RETURN g_calls;
  END;

  PROCEDURE set_rebate(p_rebate NUMBER) IS
  BEGIN
    g_rebate := p_rebate;
  END;

  FUNCTION with_rebate(p_amount NUMBER) RETURN NUMBER IS
  BEGIN
    RETURN p_amount - p_amount * g_rebate / 100;
  END;
END tariff_api;
/
-- gives use_state(): 2
CREATE OR REPLACE FUNCTION use_state RETURN NUMBER IS
  l_before NUMBER := tariff_api.calls_so_far;
BEGIN
  tariff_api.count_call;
  tariff_api.count_call();
  RETURN tariff_api.g_calls - l_before;
END;
/
-- gives use_rebate(200): 180
CREATE OR REPLACE FUNCTION use_rebate(p NUMBER) RETURN NUMBER IS
  l NUMBER;
BEGIN
  tariff_api.set_rebate(10);
  l := tariff_api.with_rebate(p);
  tariff_api.set_rebate(0);
  RETURN l;
END;
/
-- gives use_price(2): 200
-- gives use_price(50): -1
CREATE OR REPLACE FUNCTION use_price(p_hours NUMBER) RETURN NUMBER IS
BEGIN
  RETURN tariff_api.price(p_hours, 'N');
EXCEPTION
  WHEN tariff_api.e_too_long THEN RETURN -1;
END;
/
-- gives use_constant(): 48
CREATE OR REPLACE FUNCTION use_constant RETURN NUMBER IS
BEGIN
  RETURN 2 * tariff_api.c_max_hours;
END;
/

-- triggers

-- leaves fire_status(); SELECT what FROM journal ORDER BY what: [('call 10: OPEN->VOID',), ('call 12: OPEN->VOID',)]
CREATE OR REPLACE TRIGGER calls_status_au
AFTER UPDATE OF status ON calls
FOR EACH ROW
WHEN (NEW.status <> OLD.status)
BEGIN
  log_it('call ' || :OLD.call_id || ': ' || :OLD.status || '->' || :NEW.status);
END;
/
CREATE OR REPLACE PROCEDURE fire_status IS
BEGIN
  UPDATE calls SET status = 'VOID' WHERE status = 'OPEN';
END;
/
-- leaves fire_bill(); SELECT bill_id >= 100, total FROM bills WHERE call_id = 12: [(True, '0')]
CREATE OR REPLACE TRIGGER bills_biu
BEFORE INSERT OR UPDATE ON bills
FOR EACH ROW
DECLARE
  l_n NUMBER;
BEGIN
  IF INSERTING AND :NEW.bill_id IS NULL THEN
    :NEW.bill_id := bills_seq.NEXTVAL;
  END IF;
  IF UPDATING('TOTAL') AND :NEW.total < 0 THEN
    RAISE_APPLICATION_ERROR(-20100, 'a bill below zero');
  END IF;
  :NEW.total := NVL(:NEW.total, 0);
END;
/
CREATE OR REPLACE PROCEDURE fire_bill IS
BEGIN
  INSERT INTO bills (call_id) VALUES (12);
END;
/
-- fails fire_negative(): below zero
CREATE OR REPLACE PROCEDURE fire_negative IS
BEGIN
  UPDATE bills SET total = -1;
END;
/

-- views

-- asks SELECT port_name, n, tons FROM v_traffic WHERE n > 0 ORDER BY port_name: [('Quay East', 2, '200.5'), ('Quay West', 1, '0'), ('Slip', 1, '120.5')]
CREATE OR REPLACE VIEW v_traffic AS
SELECT p.port_id, p.port_name, COUNT(c.call_id) n, NVL(SUM(c.tons), 0) tons
  FROM ports p LEFT JOIN calls c ON c.port_id = p.port_id
 GROUP BY p.port_id, p.port_name;
-- asks SELECT lvl, port_name FROM v_tree ORDER BY lvl, port_name: [(1, 'Kestrel Bay'), (2, 'Quay East'), (2, 'Quay West'), (3, 'Slip')]
CREATE OR REPLACE VIEW v_tree AS
SELECT LEVEL lvl, port_id, port_name FROM ports START WITH parent_id IS NULL CONNECT BY PRIOR port_id = parent_id;
-- asks SELECT zone, ships FROM v_ships ORDER BY zone: [('N', 'Otter/Tern'), ('S', 'Lark/Tern')]
CREATE OR REPLACE VIEW v_ships (zone, ships) AS
SELECT p.zone, LISTAGG(c.ship, '/') WITHIN GROUP (ORDER BY c.ship)
  FROM ports p INNER JOIN calls c ON c.port_id = p.port_id
 GROUP BY p.zone;
