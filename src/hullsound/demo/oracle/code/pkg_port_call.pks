CREATE OR REPLACE PACKAGE pkg_port_call IS
  -- Announcing and planning of calls.

  FUNCTION announce(
    p_vessel_id IN NUMBER,
    p_agent_id  IN NUMBER,
    p_eta       IN DATE,
    p_purpose   IN VARCHAR2 DEFAULT 'CARGO'
  ) RETURN NUMBER;

  PROCEDURE change_eta(p_call_id IN NUMBER, p_eta IN DATE);

  PROCEDURE order_pilot(p_call_id IN NUMBER, p_direction IN VARCHAR2, p_when IN DATE);

  FUNCTION find_berth(p_call_id IN NUMBER) RETURN NUMBER;

  FUNCTION stay_hours(p_call_id IN NUMBER) RETURN NUMBER;

  PROCEDURE plan_day(p_day IN DATE DEFAULT TRUNC(SYSDATE), p_planned OUT NUMBER);
END pkg_port_call;
/
