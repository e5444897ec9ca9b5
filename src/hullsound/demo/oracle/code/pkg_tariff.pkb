CREATE OR REPLACE PACKAGE BODY pkg_tariff IS

  TYPE t_cache IS TABLE OF t_price INDEX BY VARCHAR2(40);

  g_cache     t_cache;
  g_cached_on DATE;

  PROCEDURE clear_cache IS
  BEGIN
    g_cache.DELETE;
    g_cached_on := TRUNC(SYSDATE);
  END clear_cache;

  FUNCTION cache_key(p_service IN VARCHAR2, p_class IN CHAR, p_on IN DATE) RETURN VARCHAR2 IS
  BEGIN
    RETURN p_service || '/' || p_class || '/' || TO_CHAR(p_on, 'YYYYMMDD');
  END cache_key;

  FUNCTION find_price(p_service IN VARCHAR2, p_class IN CHAR, p_on IN DATE DEFAULT SYSDATE) RETURN t_price IS
    l_key   VARCHAR2(40) := cache_key(p_service, p_class, p_on);
    l_price t_price;
  BEGIN
    IF g_cached_on IS NULL OR g_cached_on < TRUNC(SYSDATE) THEN
      clear_cache;
    END IF;
    IF g_cache.EXISTS(l_key) THEN
      RETURN g_cache(l_key);
    END IF;

    SELECT t.tariff_id, t.unit_price, t.minimum_amount
      INTO l_price
      FROM tariffs t
     WHERE t.service_code = p_service
       AND t.tariff_class = p_class
       AND p_on >= t.valid_from
       AND p_on < NVL(t.valid_until, p_on + 1);
    g_cache(l_key) := l_price;
    RETURN l_price;
  EXCEPTION
    WHEN NO_DATA_FOUND THEN
      RAISE_APPLICATION_ERROR(-20100, 'No tariff for ' || p_service || ' class ' || p_class);
  END find_price;

  FUNCTION port_dues(p_call_id IN NUMBER) RETURN NUMBER IS
    l_tonnage vessels.gross_tonnage%TYPE;
    l_class   vessel_types.tariff_class%TYPE;
    l_days    NUMBER;
    l_price   t_price;
  BEGIN
    SELECT v.gross_tonnage, t.tariff_class, NVL(c.departed_at, SYSDATE) - c.arrived_at
      INTO l_tonnage, l_class, l_days
      FROM port_calls c
      JOIN vessels v ON v.vessel_id = c.vessel_id
      JOIN vessel_types t ON t.type_code = v.type_code
     WHERE c.call_id = p_call_id;
    l_price := find_price('DUES', l_class);
    RETURN GREATEST(l_price.minimum, ROUND(l_tonnage * l_price.unit_price * GREATEST(CEIL(l_days), c_minimum_days), 2));
  END port_dues;

  FUNCTION discount_percent(p_agent_id IN NUMBER, p_service IN VARCHAR2, p_on IN DATE DEFAULT SYSDATE) RETURN NUMBER IS
    l_percent discounts.percent_off%TYPE;
  BEGIN
    SELECT NVL(MAX(d.percent_off), 0)
      INTO l_percent
      FROM discounts d
     WHERE (d.agent_id = p_agent_id OR d.agent_id IS NULL)
       AND (d.service_code = p_service OR d.service_code IS NULL)
       AND p_on BETWEEN d.valid_from AND d.valid_until;
    RETURN l_percent;
  END discount_percent;

BEGIN
  clear_cache;
END pkg_tariff;
/
