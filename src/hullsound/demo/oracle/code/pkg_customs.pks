CREATE OR REPLACE PACKAGE pkg_customs IS
  -- Exchange with the customs office.

  PROCEDURE send_arrival(p_call_id IN NUMBER);

  PROCEDURE resend_failed;

  PROCEDURE read_answers;

  FUNCTION has_hold(p_call_id IN NUMBER) RETURN BOOLEAN;
END pkg_customs;
/
