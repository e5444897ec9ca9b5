CREATE OR REPLACE PROCEDURE close_call(p_call_id IN port_calls.call_id%TYPE, p_when DATE := SYSDATE) AS
  l_status VARCHAR2(10); -- what it was
BEGIN
  SELECT status INTO l_status FROM port_calls WHERE call_id = p_call_id;
  IF l_status ^= 'OPEN' THEN
    RAISE_APPLICATION_ERROR(-20001, 'call ' || p_call_id || ' is ' || NVL(l_status, '?'));
  END IF;
  UPDATE port_calls SET status = 'CLOSED', departed_at = p_when - 1/24 WHERE call_id = p_call_id;
  DBMS_OUTPUT.PUT_LINE('closed');
EXCEPTION
  WHEN NO_DATA_FOUND OR TOO_MANY_ROWS THEN
    NULL; /* kept as it is */
END close_call;
/
-- becomes ----------------------------------------------------------
-- procedure.close_call: drafted
CREATE OR REPLACE PROCEDURE close_call(p_call_id port_calls.call_id%TYPE, p_when timestamp DEFAULT clock_timestamp()::timestamp(0))
LANGUAGE plpgsql
AS $hull$
DECLARE
  l_status varchar(10); -- what it was
BEGIN
  SELECT status INTO STRICT l_status FROM port_calls WHERE call_id = p_call_id;
  IF l_status <> 'OPEN' THEN
    RAISE EXCEPTION '%', concat('call ', p_call_id, ' is ', COALESCE(l_status, '?')) USING ERRCODE = 'HS001';
  END IF;
  UPDATE port_calls SET status = 'CLOSED', departed_at = p_when - (1.0/24) * interval '1 day' WHERE call_id = p_call_id;
  RAISE NOTICE '%', 'closed';
EXCEPTION
  WHEN no_data_found OR too_many_rows THEN
    NULL; /* kept as it is */
END;
$hull$;
