-- Procedures of the harbour office.

CREATE OR REPLACE PROCEDURE log_error(
  p_module  IN VARCHAR2,
  p_code    IN NUMBER,
  p_text    IN VARCHAR2,
  p_context IN VARCHAR2 DEFAULT NULL
) IS
  PRAGMA AUTONOMOUS_TRANSACTION;
BEGIN
  INSERT INTO error_log (module_name, error_code, error_text, context_info)
  VALUES (p_module, p_code, SUBSTR(p_text, 1, 2000), p_context);
  COMMIT;
END log_error;
/

CREATE OR REPLACE PROCEDURE add_event(
  p_call_id IN port_calls.call_id%TYPE,
  p_code    IN VARCHAR2,
  p_details IN VARCHAR2 DEFAULT NULL
) IS
BEGIN
  INSERT INTO call_events (event_id, call_id, event_code, event_at, details)
  VALUES (movement_seq.NEXTVAL, p_call_id, UPPER(p_code), SYSDATE, SUBSTR(p_details, 1, 400));
END add_event;
/

CREATE OR REPLACE PROCEDURE confirm_call(p_call_id IN NUMBER, p_berth_id IN NUMBER DEFAULT NULL) IS
  l_status port_calls.status%TYPE;
  l_eta    port_calls.eta%TYPE;
BEGIN
  SELECT c.status, c.eta
    INTO l_status, l_eta
    FROM port_calls c
   WHERE c.call_id = p_call_id
     FOR UPDATE;

  IF l_status <> 'ANNOUNCED' THEN
    RAISE_APPLICATION_ERROR(-20001, 'Call ' || p_call_id || ' is ' || l_status || ', not announced');
  ELSIF p_berth_id IS NOT NULL AND berth_is_free(p_berth_id, l_eta) = 0 THEN
    RAISE_APPLICATION_ERROR(-20002, 'Berth ' || p_berth_id || ' is taken on ' || TO_CHAR(l_eta, 'DD.MM.YYYY HH24:MI'));
  END IF;

  UPDATE port_calls c
     SET c.status = 'CONFIRMED',
         c.berth_id = NVL(p_berth_id, c.berth_id),
         c.changed_at = SYSDATE,
         c.changed_by = USER
   WHERE c.call_id = p_call_id;

  add_event(p_call_id, 'CONFIRM', 'berth ' || p_berth_id);
EXCEPTION
  WHEN NO_DATA_FOUND THEN
    RAISE_APPLICATION_ERROR(-20003, 'No call ' || p_call_id);
END confirm_call;
/

CREATE OR REPLACE PROCEDURE register_arrival(p_call_id IN NUMBER, p_when IN DATE DEFAULT SYSDATE) IS
  l_berth port_calls.berth_id%TYPE;
BEGIN
  UPDATE port_calls
     SET status = 'IN PORT',
         arrived_at = p_when
   WHERE call_id = p_call_id
     AND status = 'CONFIRMED'
  RETURNING berth_id INTO l_berth;

  IF SQL%ROWCOUNT = 0 THEN
    RAISE_APPLICATION_ERROR(-20004, 'Call ' || p_call_id || ' is not confirmed');
  END IF;

  IF l_berth IS NOT NULL THEN
    INSERT INTO berth_movements (movement_id, call_id, berth_id, moored_at)
    VALUES (movement_seq.NEXTVAL, p_call_id, l_berth, p_when);
  END IF;
  add_event(p_call_id, 'ARRIVE');
END register_arrival;
/

CREATE OR REPLACE PROCEDURE register_departure(p_call_id IN NUMBER, p_when IN DATE DEFAULT SYSDATE) IS
  e_still_held EXCEPTION;
  l_holds NUMBER(6);
BEGIN
  SELECT COUNT(*)
    INTO l_holds
    FROM customs_holds h
   WHERE h.call_id = p_call_id
     AND h.lifted_at IS NULL;
  IF l_holds > 0 THEN
    RAISE e_still_held;
  END IF;

  UPDATE berth_movements
     SET unmoored_at = p_when
   WHERE call_id = p_call_id
     AND unmoored_at IS NULL;

  UPDATE port_calls
     SET status = 'DEPARTED',
         departed_at = p_when
   WHERE call_id = p_call_id;

  add_event(p_call_id, 'DEPART', TO_CHAR(SQL%ROWCOUNT) || ' calls closed');
EXCEPTION
  WHEN e_still_held THEN
    RAISE_APPLICATION_ERROR(-20005, 'Customs still holds goods of call ' || p_call_id);
END register_departure;
/

CREATE OR REPLACE PROCEDURE cancel_call(p_call_id IN NUMBER, p_reason IN VARCHAR2) IS
BEGIN
  UPDATE port_calls
     SET status = 'CANCELLED',
         remarks = remarks || CHR(10) || 'Cancelled: ' || p_reason
   WHERE call_id = p_call_id
     AND status IN ('ANNOUNCED', 'CONFIRMED');
  IF SQL%NOTFOUND THEN
    RAISE_APPLICATION_ERROR(-20006, 'Call ' || p_call_id || ' cannot be cancelled');
  END IF;
  DELETE pilot_orders WHERE call_id = p_call_id AND status = 'OPEN';
END cancel_call;
/

CREATE OR REPLACE PROCEDURE assign_pilots(p_hours IN NUMBER DEFAULT 12) IS
  CURSOR c_orders IS
    SELECT o.order_id, o.ordered_for, v.length_m
      FROM pilot_orders o
      JOIN port_calls c ON c.call_id = o.call_id
      JOIN vessels v ON v.vessel_id = c.vessel_id
     WHERE o.status = 'OPEN'
       AND o.ordered_for < SYSDATE + p_hours / 24
     ORDER BY o.ordered_for;
  CURSOR c_pilot(cp_length NUMBER, cp_when DATE) IS
    SELECT p.pilot_id
      FROM pilots p
      JOIN pilot_rosters r ON r.pilot_id = p.pilot_id
     WHERE p.max_length_m >= cp_length
       AND cp_when BETWEEN r.duty_from AND r.duty_until
       AND (p.night_allowed = 'Y' OR is_night(cp_when) = 'N')
     ORDER BY p.max_length_m;
  l_pilot  pilots.pilot_id%TYPE;
  l_filled NUMBER(6) := 0;
BEGIN
  FOR r_order IN c_orders LOOP
    OPEN c_pilot(r_order.length_m, r_order.ordered_for);
    FETCH c_pilot INTO l_pilot;
    IF c_pilot%FOUND THEN
      UPDATE pilot_orders
         SET pilot_id = l_pilot,
             status = 'ASSIGNED'
       WHERE order_id = r_order.order_id;
      l_filled := l_filled + 1;
    END IF;
    CLOSE c_pilot;
  END LOOP;
  DBMS_OUTPUT.PUT_LINE('Orders filled: ' || l_filled);
END assign_pilots;
/

CREATE OR REPLACE PROCEDURE send_reminders IS
  l_fee NUMBER(10,2) := setting_number('REMINDER_FEE', 25);
BEGIN
  FOR r IN (SELECT i.invoice_id, i.invoice_no, i.reminder_level, a.name, i.due_on
              FROM invoices i, agents a
             WHERE a.agent_id = i.agent_id
               AND i.status = 'ISSUED'
               AND i.due_on + 14 < TRUNC(SYSDATE)
               AND i.reminder_level < 3
             ORDER BY i.due_on) LOOP
    UPDATE invoices
       SET reminder_level = reminder_level + 1
     WHERE invoice_id = r.invoice_id;

    INSERT INTO mail_queue (recipient, subject, body)
    VALUES (r.name,
            'Reminder ' || TO_CHAR(r.reminder_level + 1) || ' for ' || r.invoice_no,
            'Invoice ' || r.invoice_no || ' was due on ' || TO_CHAR(r.due_on, 'DD Month YYYY')
              || '. We add a fee of ' || l_fee || '.');
  END LOOP;
  COMMIT;
END send_reminders;
/

CREATE OR REPLACE PROCEDURE purge_crew_lists(p_days IN NUMBER DEFAULT 90) IS
  l_deleted NUMBER(10);
BEGIN
  DELETE FROM crew_lists
   WHERE received_at < SYSDATE - p_days
     AND checked_at IS NOT NULL;
  l_deleted := SQL%ROWCOUNT;
  COMMIT;
  DBMS_OUTPUT.PUT_LINE(l_deleted || ' crew lists removed');
END purge_crew_lists;
/

CREATE OR REPLACE PROCEDURE rebuild_table_statistics(p_table IN VARCHAR2) IS
BEGIN
  DBMS_STATS.GATHER_TABLE_STATS(ownname => 'HARBOUR', tabname => p_table);
END rebuild_table_statistics;
/

CREATE OR REPLACE PROCEDURE clear_table(p_table IN VARCHAR2) IS
BEGIN
  EXECUTE IMMEDIATE 'DELETE FROM ' || p_table || ' WHERE 1 = 1';
END clear_table;
/

CREATE OR REPLACE PROCEDURE count_rows(p_table IN VARCHAR2, p_since IN DATE, p_count OUT NUMBER) IS
BEGIN
  EXECUTE IMMEDIATE 'SELECT COUNT(*) FROM ' || p_table || ' WHERE created_at >= :since'
    INTO p_count
    USING p_since;
END count_rows;
/

CREATE OR REPLACE PROCEDURE import_manifest(p_manifest_id IN NUMBER) IS
  l_file  UTL_FILE.FILE_TYPE;
  l_line  VARCHAR2(4000);
  l_count PLS_INTEGER := 0;
BEGIN
  l_file := UTL_FILE.FOPEN('EDI_IN', 'manifest_' || p_manifest_id || '.edi', 'r');
  LOOP
    BEGIN
      UTL_FILE.GET_LINE(l_file, l_line);
    EXCEPTION
      WHEN NO_DATA_FOUND THEN
        EXIT;
    END;
    l_count := l_count + 1;
    INSERT INTO manifest_items (manifest_id, item_no, cargo_code, description, gross_tons)
    VALUES (p_manifest_id, l_count, SUBSTR(l_line, 1, 8), SUBSTR(l_line, 9, 60), TO_NUMBER(SUBSTR(l_line, 70, 12), '999999999.99'));
  END LOOP;
  UTL_FILE.FCLOSE(l_file);
END import_manifest;
/

CREATE OR REPLACE PROCEDURE close_old_calls IS
  TYPE t_ids IS TABLE OF port_calls.call_id%TYPE INDEX BY PLS_INTEGER;
  l_ids t_ids;
BEGIN
  SELECT call_id
    BULK COLLECT INTO l_ids
    FROM port_calls
   WHERE status = 'ANNOUNCED'
     AND eta < SYSDATE - 30;
  FORALL i IN 1 .. l_ids.COUNT
    UPDATE port_calls SET status = 'CANCELLED' WHERE call_id = l_ids(i);
  COMMIT;
END close_old_calls;
/

CREATE OR REPLACE PROCEDURE remove_duplicate_names IS
BEGIN
  DELETE FROM vessel_names a
   WHERE a.ROWID > (SELECT MIN(b.ROWID)
                      FROM vessel_names b
                     WHERE b.vessel_id = a.vessel_id
                       AND b.name = a.name);
END remove_duplicate_names;
/

CREATE OR REPLACE PROCEDURE renumber_lines(p_invoice_id IN NUMBER) IS
  l_no NUMBER(4) := 0;
BEGIN
  FOR r IN (SELECT line_id FROM invoice_lines WHERE invoice_id = p_invoice_id ORDER BY line_no, line_id) LOOP
    l_no := l_no + 1;
    UPDATE invoice_lines SET line_no = -l_no WHERE line_id = r.line_id;
  END LOOP;
  FOR i IN REVERSE 1 .. l_no LOOP
    UPDATE invoice_lines SET line_no = i WHERE invoice_id = p_invoice_id AND line_no = -i;
  END LOOP;
END renumber_lines;
/

CREATE OR REPLACE PROCEDURE wait_for_tide(p_gauge IN VARCHAR2, p_level IN NUMBER) IS
  l_level NUMBER;
BEGIN
  LOOP
    SELECT MAX(level_m) INTO l_level FROM tide_readings WHERE gauge_code = p_gauge AND read_at > SYSTIMESTAMP - INTERVAL '5' MINUTE;
    EXIT WHEN l_level >= p_level;
    DBMS_LOCK.SLEEP(60);
  END LOOP;
END wait_for_tide;
/
