CREATE OR REPLACE PACKAGE BODY pkg_customs IS

  g_url VARCHAR2(200);

  FUNCTION message_text(p_call_id IN NUMBER) RETURN CLOB IS
    l_text CLOB;
  BEGIN
    SELECT XMLELEMENT("arrival",
             XMLFOREST(c.call_id AS "call", v.imo_number AS "imo", TO_CHAR(c.arrived_at, 'YYYY-MM-DD') AS "date")
           ).getClobVal()
      INTO l_text
      FROM port_calls c
      JOIN vessels v ON v.vessel_id = c.vessel_id
     WHERE c.call_id = p_call_id;
    RETURN l_text;
  END message_text;

  PROCEDURE post(p_message_id IN NUMBER) IS
    l_request  UTL_HTTP.REQ;
    l_response UTL_HTTP.RESP;
    l_body     CLOB;
  BEGIN
    SELECT body INTO l_body FROM customs_messages WHERE message_id = p_message_id FOR UPDATE WAIT 10;
    l_request := UTL_HTTP.BEGIN_REQUEST(g_url, 'POST');
    UTL_HTTP.WRITE_TEXT(l_request, DBMS_LOB.SUBSTR(l_body, 4000, 1));
    l_response := UTL_HTTP.GET_RESPONSE(l_request);
    UPDATE customs_messages SET sent_at = SYSDATE, attempts = attempts + 1 WHERE message_id = p_message_id;
    UTL_HTTP.END_RESPONSE(l_response);
  EXCEPTION
    WHEN UTL_HTTP.REQUEST_FAILED THEN
      UPDATE customs_messages SET attempts = attempts + 1, last_error = SQLERRM WHERE message_id = p_message_id;
  END post;

  PROCEDURE send_arrival(p_call_id IN NUMBER) IS
    l_id customs_messages.message_id%TYPE;
  BEGIN
    INSERT INTO customs_messages (message_id, call_id, direction, message_type, body)
    VALUES (customs_message_seq.NEXTVAL, p_call_id, 'O', 'ARRIVAL', message_text(p_call_id))
    RETURNING message_id INTO l_id;
    post(l_id);
    COMMIT;
  END send_arrival;

  PROCEDURE resend_failed IS
  BEGIN
    FOR r IN (SELECT message_id FROM customs_messages WHERE sent_at IS NULL AND attempts < 5) LOOP
      BEGIN
        SAVEPOINT before_message;
        post(r.message_id);
      EXCEPTION
        WHEN OTHERS THEN
          ROLLBACK TO before_message;
          log_error('PKG_CUSTOMS', SQLCODE, SQLERRM);
      END;
    END LOOP;
    COMMIT;
  END resend_failed;

  PROCEDURE read_answers IS
    l_options  DBMS_AQ.DEQUEUE_OPTIONS_T;
    l_message  VARCHAR2(4000);
  BEGIN
    INSERT INTO customs_holds (hold_id, call_id, container_no, officer)
    SELECT h.hold_no, m.call_id, h.container_no, h.officer
      FROM holds@customs_link h, customs_messages m
     WHERE m.message_id = h.message_no;
    COMMIT;
  END read_answers;

  FUNCTION has_hold(p_call_id IN NUMBER) RETURN BOOLEAN IS
    l_count NUMBER;
  BEGIN
    SELECT COUNT(*) INTO l_count FROM customs_holds WHERE call_id = p_call_id AND lifted_at IS NULL;
    RETURN l_count > 0;
  END has_hold;

BEGIN
  g_url := setting_value('CUSTOMS_URL');
END pkg_customs;
/
