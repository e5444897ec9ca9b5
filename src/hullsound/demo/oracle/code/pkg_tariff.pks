CREATE OR REPLACE PACKAGE pkg_tariff IS
  -- Prices of services. All amounts are in the currency of the authority.

  c_own_currency CONSTANT CHAR(3) := 'KBD';
  c_minimum_days CONSTANT NUMBER := 1;

  e_no_tariff EXCEPTION;
  PRAGMA EXCEPTION_INIT(e_no_tariff, -20100);

  TYPE t_price IS RECORD (
    tariff_id  tariffs.tariff_id%TYPE,
    unit_price tariffs.unit_price%TYPE,
    minimum    tariffs.minimum_amount%TYPE
  );

  -- The tariff that holds for a service and class on a day
  FUNCTION find_price(p_service IN VARCHAR2, p_class IN CHAR, p_on IN DATE DEFAULT SYSDATE) RETURN t_price;

  -- Dues of a call
  FUNCTION port_dues(p_call_id IN NUMBER) RETURN NUMBER;

  -- Share taken off for an agent
  FUNCTION discount_percent(p_agent_id IN NUMBER, p_service IN VARCHAR2, p_on IN DATE DEFAULT SYSDATE) RETURN NUMBER;

  -- Forget remembered prices
  PROCEDURE clear_cache;
END pkg_tariff;
/
