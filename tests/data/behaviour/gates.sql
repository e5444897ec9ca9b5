-- A lock gate's register in PL/SQL: collections that a package keeps, row counts of FORALL, whole records, divisions, texts of numbers.
-- row gate: {"id": 1, "taken": 1, "note": 'north', "width": 12.5}
-- row gate: {"id": 2, "taken": 1, "note": 'south', "width": 8}
-- row gate: {"id": 3, "taken": 0, "note": None, "width": 9.25}
CREATE TABLE gate (id NUMBER(10) PRIMARY KEY, taken NUMBER(4), note VARCHAR2(20), width NUMBER(8,2));
CREATE OR REPLACE PACKAGE lock_api AS
  CURSOR c_wide (p_least NUMBER) RETURN gate%ROWTYPE;
  FUNCTION free_all (p_max NUMBER) RETURN NUMBER;
  FUNCTION collected (p_max NUMBER) RETURN NUMBER;
  FUNCTION rate (p_zone VARCHAR2) RETURN NUMBER;
  FUNCTION stacked RETURN NUMBER;
  PROCEDURE replace_row (p_id NUMBER);
  FUNCTION mean_width RETURN NUMBER;
  FUNCTION half_count RETURN NUMBER;
  FUNCTION label (p_id NUMBER) RETURN VARCHAR2;
  FUNCTION wide_ones (p_least NUMBER) RETURN VARCHAR2;
END;
/
CREATE OR REPLACE PACKAGE BODY lock_api AS
  TYPE t_map IS TABLE OF NUMBER INDEX BY VARCHAR2(10);
  TYPE t_nums IS TABLE OF NUMBER;
  g_rates t_map;
  g_stack t_nums := t_nums();
  CURSOR c_wide (p_least NUMBER) RETURN gate%ROWTYPE IS SELECT * FROM gate WHERE width >= p_least ORDER BY id;
  -- asks SELECT lock_api.free_all(2): [(2,)]
  FUNCTION free_all (p_max NUMBER) RETURN NUMBER IS
    l_ids t_nums;
  BEGIN
    SELECT id BULK COLLECT INTO l_ids FROM gate WHERE id <= p_max;
    FORALL i IN 1 .. l_ids.COUNT
      UPDATE gate SET taken = 0 WHERE id = l_ids(i);
    RETURN SQL%ROWCOUNT;
  END;
  -- asks SELECT lock_api.collected(3): [(3,)]
  FUNCTION collected (p_max NUMBER) RETURN NUMBER IS
    l_ids t_nums;
  BEGIN
    SELECT id BULK COLLECT INTO l_ids FROM gate WHERE id <= p_max;
    RETURN SQL%ROWCOUNT;
  END;
  -- asks SELECT lock_api.rate('east'): [(10,)]
  -- asks SELECT lock_api.rate('n'): [(2.5,)]
  FUNCTION rate (p_zone VARCHAR2) RETURN NUMBER IS
  BEGIN
    IF NOT g_rates.EXISTS(p_zone) THEN g_rates(p_zone) := LENGTH(p_zone) * 10; END IF;
    RETURN g_rates(p_zone) / 4;
  END;
  PROCEDURE push (p_v NUMBER) IS
  BEGIN
    g_stack.EXTEND;
    g_stack(g_stack.COUNT) := p_v;
  END;
  -- asks SELECT lock_api.stacked(): [(481,)]
  FUNCTION stacked RETURN NUMBER IS
    l_v NUMBER;
  BEGIN
    g_stack.DELETE;
    push(3);
    push(4);
    g_stack(1) := g_stack(2) * 2;
    l_v := g_stack(g_stack.LAST);
    g_stack.TRIM;
    RETURN l_v * 100 + g_stack(1) * 10 + g_stack.COUNT;
  END;
  PROCEDURE replace_row (p_id NUMBER) IS
    l_row gate%ROWTYPE;
  BEGIN
    SELECT * INTO l_row FROM gate WHERE id = p_id;
    l_row.note := 'row ' || l_row.taken;
    l_row.taken := 9;
    UPDATE gate SET ROW = l_row WHERE id = p_id;
  END;
  -- asks SELECT lock_api.mean_width(): [(0.6667,)]
  FUNCTION mean_width RETURN NUMBER IS
    l_mean NUMBER;
  BEGIN
    SELECT SUM(taken) / COUNT(*) INTO l_mean FROM gate;
    RETURN ROUND(l_mean, 4);
  END;
  -- asks SELECT lock_api.half_count(): [(4.5,)]
  FUNCTION half_count RETURN NUMBER IS
    l_half NUMBER := 0;
  BEGIN
    FOR r IN (SELECT COUNT(*) AS n, MAX(id) AS last FROM gate) LOOP
      l_half := l_half + r.n / 2 + (r.last + 3) / 2;
    END LOOP;
    RETURN l_half;
  END;
  -- asks SELECT lock_api.label(1): [('1: 12.5 m, half 6.25',)]
  -- asks SELECT lock_api.label(2): [('2: 8 m, half 4',)]
  FUNCTION label (p_id NUMBER) RETURN VARCHAR2 IS
    l_width gate.width%TYPE;
  BEGIN
    SELECT width INTO l_width FROM gate WHERE id = p_id;
    RETURN p_id || ': ' || l_width || ' m, half ' || ROUND(l_width / 2, 3);
  END;
  -- asks SELECT lock_api.wide_ones(9): [('1,3,',)]
  FUNCTION wide_ones (p_least NUMBER) RETURN VARCHAR2 IS
    l_text VARCHAR2(100);
  BEGIN
    FOR r IN c_wide(p_least) LOOP
      l_text := l_text || r.id || ',';
    END LOOP;
    RETURN l_text;
  END;
END;
/
-- leaves renew(1); SELECT id, taken, note FROM gate WHERE id = 1: [(1, 9, 'row 1')]
-- fails renew(77): no rows
CREATE OR REPLACE PROCEDURE renew (p_id NUMBER) IS
BEGIN
  lock_api.replace_row(p_id);
END;
/
-- leaves clear_all(2); SELECT id, taken, note FROM gate ORDER BY id: [(1, 0, 'north'), (2, 0, 'south'), (3, 2, None)]
CREATE OR REPLACE PROCEDURE clear_all (p_max NUMBER) IS
  l_n NUMBER;
BEGIN
  l_n := lock_api.free_all(p_max);
  UPDATE gate SET taken = l_n WHERE id = 3;
END;
/
CREATE TABLE gate_list (id NUMBER(10), what VARCHAR2(20));
-- leaves share_out(); SELECT id, what FROM gate_list ORDER BY id, what: [(1, 'some'), (1, 'wide'), (2, 'some'), (3, 'closed')]
CREATE OR REPLACE PROCEDURE share_out IS
BEGIN
  INSERT ALL
    WHEN width > 10 THEN INTO gate_list (id, what) VALUES (id, CASE WHEN taken = 1 THEN 'wide' ELSE 'free' END)
    WHEN taken = 1 THEN INTO gate_list (id, what) VALUES (id, 'some')
    ELSE INTO gate_list (id, what) VALUES (id, 'closed')
  SELECT id, taken, width FROM gate;
END;
/
-- leaves share_first(); SELECT id, what FROM gate_list ORDER BY id: [(1, 'wide'), (2, 'some')]
CREATE OR REPLACE PROCEDURE share_first IS
BEGIN
  INSERT FIRST
    WHEN width > 10 THEN INTO gate_list (id, what) VALUES (id, 'wide')
    WHEN taken = 1 THEN INTO gate_list VALUES (id, 'some')
  SELECT id, taken, width FROM gate;
END;
/
-- leaves add_two(); SELECT id, what FROM gate_list ORDER BY id: [(8, 'a'), (9, 'b')]
CREATE OR REPLACE PROCEDURE add_two IS
BEGIN
  INSERT ALL INTO gate_list (id, what) VALUES (8, 'a') INTO gate_list (id, what) VALUES (9, 'b') SELECT * FROM dual;
END;
/
-- gives last_gate(2): 'south'
-- gives last_gate(0): 'none'
CREATE OR REPLACE FUNCTION last_gate (p_max NUMBER) RETURN VARCHAR2 IS
  CURSOR c IS SELECT note FROM gate WHERE id <= p_max ORDER BY id;
  l_note gate.note%TYPE := 'none';
BEGIN
  OPEN c;
  LOOP
    FETCH c INTO l_note;
    EXIT WHEN c%NOTFOUND;
  END LOOP;
  CLOSE c;
  RETURN l_note;
END;
/
CREATE OR REPLACE FUNCTION told (p_what VARCHAR2, p_times PLS_INTEGER DEFAULT 1) RETURN VARCHAR2 IS
BEGIN
  RETURN RPAD('<', p_times, '<') || p_what;
END;
/
CREATE OR REPLACE PACKAGE gauge AS
  g_whole PLS_INTEGER := 0;
  g_text VARCHAR2(40);
  FUNCTION fill (p_by NUMBER) RETURN VARCHAR2;
END;
/
CREATE OR REPLACE PACKAGE BODY gauge AS
  h_small NUMBER(3);
  FUNCTION fill (p_by NUMBER) RETURN VARCHAR2 IS
  BEGIN
    g_whole := 1;
    g_whole := g_whole + p_by + 2.6;
    g_text := g_whole;
    h_small := p_by / 2;
    RETURN g_whole || ',' || g_text || ',' || h_small;
  END;
END;
/
-- gives filled(7): '11,11,4'
CREATE OR REPLACE FUNCTION filled (p_by NUMBER) RETURN VARCHAR2 IS
BEGIN
  RETURN gauge.fill(p_by);
END;
/
-- gives told_number(2.50, 2): '<<2.5'
CREATE OR REPLACE FUNCTION told_number (p_n NUMBER, p_times NUMBER) RETURN VARCHAR2 IS
BEGIN
  RETURN told(p_n, p_times);
END;
/
-- gives told_now(1): 1
CREATE OR REPLACE FUNCTION told_now (p_n NUMBER) RETURN NUMBER IS
BEGIN
  IF LENGTH(told(SYSDATE)) > 8 THEN RETURN p_n; END IF;
  RETURN 0;
END;
/
-- gives plainly(2.50): '2.5'
-- gives plainly(40): '40'
CREATE OR REPLACE FUNCTION plainly (p_n NUMBER) RETURN VARCHAR2 IS
  l_text VARCHAR2(20);
BEGIN
  l_text := p_n;
  RETURN l_text;
END;
/
