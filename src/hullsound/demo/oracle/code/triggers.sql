-- Triggers: keys, audit, and rules that no constraint can hold.

CREATE OR REPLACE TRIGGER vessels_bi
BEFORE INSERT ON vessels
FOR EACH ROW
WHEN (NEW.vessel_id IS NULL)
BEGIN
  :NEW.vessel_id := vessel_seq.NEXTVAL;
END;
/

CREATE OR REPLACE TRIGGER agents_bi
BEFORE INSERT ON agents
FOR EACH ROW
BEGIN
  IF :NEW.agent_id IS NULL THEN
    SELECT agent_seq.NEXTVAL INTO :NEW.agent_id FROM dual;
  END IF;
END;
/

CREATE OR REPLACE TRIGGER port_calls_biu
BEFORE INSERT OR UPDATE ON port_calls
FOR EACH ROW
DECLARE
  l_status vessels.status%TYPE;
BEGIN
  IF INSERTING THEN
    :NEW.created_at := SYSDATE;
    :NEW.created_by := USER;
    SELECT v.status INTO l_status FROM vessels v WHERE v.vessel_id = :NEW.vessel_id;
    IF l_status = 'SCRAPPED' THEN
      RAISE_APPLICATION_ERROR(-20300, 'Vessel ' || :NEW.vessel_id || ' is scrapped');
    END IF;
  ELSE
    :NEW.changed_at := SYSDATE;
    :NEW.changed_by := USER;
  END IF;
  IF :NEW.etd < :NEW.eta THEN
    RAISE_APPLICATION_ERROR(-20301, 'Departure before arrival');
  END IF;
END port_calls_biu;
/

CREATE OR REPLACE TRIGGER port_calls_aud
AFTER UPDATE OF status, berth_id OR DELETE ON port_calls
REFERENCING NEW AS n OLD AS o
FOR EACH ROW
BEGIN
  INSERT INTO audit_trail (audit_id, table_name, row_key, action_code, old_values, new_values)
  VALUES (audit_seq.NEXTVAL, 'PORT_CALLS', TO_CHAR(:o.call_id),
          CASE WHEN DELETING THEN 'D' ELSE 'U' END,
          'status=' || :o.status || ';berth=' || :o.berth_id,
          'status=' || :n.status || ';berth=' || :n.berth_id);
END;
/

CREATE OR REPLACE TRIGGER vessels_names_au
AFTER UPDATE OF name ON vessels
FOR EACH ROW
WHEN (OLD.name <> NEW.name)
BEGIN
  INSERT INTO vessel_names (vessel_id, valid_from, name)
  VALUES (:OLD.vessel_id, SYSDATE, :OLD.name);
END;
/

CREATE OR REPLACE TRIGGER invoices_bd
BEFORE DELETE ON invoices
FOR EACH ROW
BEGIN
  IF :OLD.status <> 'DRAFT' THEN
    RAISE_APPLICATION_ERROR(-20302, 'Only drafts may be deleted');
  END IF;
END;
/

CREATE OR REPLACE TRIGGER payments_as
AFTER INSERT OR UPDATE OR DELETE ON payments
BEGIN
  DBMS_OUTPUT.PUT_LINE('Payments changed at ' || TO_CHAR(SYSDATE, 'HH24:MI:SS'));
END;
/

CREATE OR REPLACE TRIGGER settings_bu
BEFORE UPDATE ON settings
FOR EACH ROW
BEGIN
  :NEW.changed_at := SYSTIMESTAMP;
  :NEW.changed_by := USER;
  IF UPDATING('SETTING_NAME') THEN
    RAISE_APPLICATION_ERROR(-20303, 'Settings keep their names');
  END IF;
END;
/

CREATE OR REPLACE TRIGGER berth_movements_cmp
FOR INSERT OR UPDATE ON berth_movements
COMPOUND TRIGGER
  g_berth_id berth_movements.berth_id%TYPE;

  BEFORE EACH ROW IS
  BEGIN
    g_berth_id := :NEW.berth_id;
  END BEFORE EACH ROW;

  AFTER STATEMENT IS
    l_count NUMBER;
  BEGIN
    SELECT COUNT(*) INTO l_count FROM berth_movements WHERE berth_id = g_berth_id AND unmoored_at IS NULL;
    IF l_count > 1 THEN
      RAISE_APPLICATION_ERROR(-20304, 'Two vessels at one berth');
    END IF;
  END AFTER STATEMENT;
END berth_movements_cmp;
/

CREATE OR REPLACE TRIGGER v_open_calls_io
INSTEAD OF UPDATE ON v_open_calls
FOR EACH ROW
BEGIN
  UPDATE port_calls
     SET eta = :NEW.eta,
         etd = :NEW.etd
   WHERE call_id = :OLD.call_id;
END;
/

CREATE OR REPLACE TRIGGER inspections_bi
BEFORE INSERT ON inspections
FOR EACH ROW
DECLARE
  l_open NUMBER(4);
BEGIN
  SELECT COUNT(*)
    INTO l_open
    FROM deficiencies d
    JOIN inspections i ON i.inspection_id = d.inspection_id
   WHERE i.call_id = :NEW.call_id
     AND d.fixed_at IS NULL;
  :NEW.score := GREATEST(0, 100 - l_open * 10);
  IF l_open > 5 THEN
    :NEW.result_code := 'DETAIN';
  ELSIF l_open > 0 THEN
    :NEW.result_code := 'DEFECTS';
  ELSE
    :NEW.result_code := 'CLEAR';
  END IF;
END;
/

CREATE OR REPLACE TRIGGER harbour_logon
AFTER LOGON ON SCHEMA
BEGIN
  DBMS_APPLICATION_INFO.SET_MODULE('harbour', 'logon');
END;
/

CREATE OR REPLACE TRIGGER manifests_bu
BEFORE UPDATE ON manifests
FOR EACH ROW
DISABLE
BEGIN
  :NEW.total_tons := NVL(:NEW.total_tons, 0);
END;
/
