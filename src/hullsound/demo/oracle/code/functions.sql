-- Functions that views and programs call.

CREATE OR REPLACE FUNCTION setting_value(p_name IN VARCHAR2) RETURN VARCHAR2 IS
  l_value settings.setting_value%TYPE;
BEGIN
  SELECT setting_value
    INTO l_value
    FROM settings
   WHERE setting_name = UPPER(p_name);
  RETURN l_value;
EXCEPTION
  WHEN NO_DATA_FOUND THEN
    RETURN NULL;
END setting_value;
/

CREATE OR REPLACE FUNCTION setting_number(p_name IN VARCHAR2, p_default IN NUMBER DEFAULT 0) RETURN NUMBER IS
BEGIN
  RETURN NVL(TO_NUMBER(setting_value(p_name)), p_default);
EXCEPTION
  WHEN VALUE_ERROR OR INVALID_NUMBER THEN
    RETURN p_default;
END setting_number;
/

CREATE OR REPLACE FUNCTION hours_between(p_from IN DATE, p_to IN DATE) RETURN NUMBER DETERMINISTIC IS
BEGIN
  IF p_from IS NULL OR p_to IS NULL THEN
    RETURN NULL;
  END IF;
  RETURN ROUND((p_to - p_from) * 24, 2);
END hours_between;
/

CREATE OR REPLACE FUNCTION is_night(p_when IN DATE) RETURN CHAR IS
  l_hour NUMBER(2);
BEGIN
  l_hour := TO_NUMBER(TO_CHAR(p_when, 'HH24'));
  IF l_hour >= 22 OR l_hour < 6 THEN
    RETURN 'Y';
  END IF;
  RETURN 'N';
END is_night;
/

CREATE OR REPLACE FUNCTION vessel_label(p_vessel_id IN vessels.vessel_id%TYPE) RETURN VARCHAR2 IS
  l_label VARCHAR2(200);
BEGIN
  SELECT v.name || ' / ' || v.call_sign || DECODE(v.status, 'ACTIVE', NULL, ' [' || v.status || ']')
    INTO l_label
    FROM vessels v
   WHERE v.vessel_id = p_vessel_id;
  RETURN l_label;
EXCEPTION
  WHEN NO_DATA_FOUND THEN
    RETURN 'unknown vessel ' || p_vessel_id;
END vessel_label;
/

CREATE OR REPLACE FUNCTION berth_is_free(
  p_berth_id IN berths.berth_id%TYPE,
  p_from     IN DATE,
  p_until    IN DATE DEFAULT NULL
) RETURN NUMBER IS
  l_count NUMBER(6);
BEGIN
  SELECT COUNT(*)
    INTO l_count
    FROM berth_movements m
   WHERE m.berth_id = p_berth_id
     AND m.moored_at < NVL(p_until, p_from + 1)
     AND NVL(m.unmoored_at, SYSDATE + 365) > p_from;
  IF l_count > 0 THEN
    RETURN 0;
  END IF;

  SELECT COUNT(*)
    INTO l_count
    FROM berth_closures k
   WHERE k.berth_id = p_berth_id
     AND k.closed_from < NVL(p_until, p_from + 1)
     AND k.closed_until > p_from;
  RETURN CASE WHEN l_count = 0 THEN 1 ELSE 0 END;
END berth_is_free;
/

CREATE OR REPLACE FUNCTION exchange_rate(p_currency IN CHAR, p_on IN DATE DEFAULT SYSDATE) RETURN NUMBER IS
  l_rate exchange_rates.rate%TYPE;
BEGIN
  IF p_currency = 'KBD' THEN
    RETURN 1;
  END IF;
  SELECT rate
    INTO l_rate
    FROM (SELECT r.rate
            FROM exchange_rates r
           WHERE r.currency_code = p_currency
             AND r.valid_from <= p_on
           ORDER BY r.valid_from DESC) x
   WHERE ROWNUM = 1;
  RETURN l_rate;
EXCEPTION
  WHEN NO_DATA_FOUND THEN
    RAISE_APPLICATION_ERROR(-20010, 'No rate for ' || p_currency || ' on ' || TO_CHAR(p_on, 'DD.MM.YYYY'));
END exchange_rate;
/

CREATE OR REPLACE FUNCTION calls_in_year(p_vessel_id IN NUMBER, p_year IN NUMBER) RETURN NUMBER IS
  l_count PLS_INTEGER := 0;
BEGIN
  FOR r IN (SELECT c.call_id
              FROM port_calls c
             WHERE c.vessel_id = p_vessel_id
               AND EXTRACT(YEAR FROM c.eta) = p_year
               AND c.status <> 'CANCELLED') LOOP
    l_count := l_count + 1;
  END LOOP;
  RETURN l_count;
END calls_in_year;
/

CREATE OR REPLACE FUNCTION next_invoice_no RETURN VARCHAR2 IS
  l_number NUMBER;
BEGIN
  l_number := invoice_seq.NEXTVAL;
  RETURN setting_value('INVOICE_PREFIX') || '-' || TO_CHAR(SYSDATE, 'YYYY') || '-' || LPAD(l_number, 8, '0');
END next_invoice_no;
/

CREATE OR REPLACE FUNCTION vessel_is_banned(p_vessel_id IN NUMBER, p_on IN DATE DEFAULT SYSDATE) RETURN BOOLEAN IS
  CURSOR c_ban(cp_vessel NUMBER, cp_on DATE) IS
    SELECT b.reason
      FROM banned_vessels b
     WHERE b.vessel_id = cp_vessel
       AND cp_on BETWEEN b.banned_from AND NVL(b.banned_until, cp_on);
  l_reason banned_vessels.reason%TYPE;
  l_found  BOOLEAN;
BEGIN
  OPEN c_ban(p_vessel_id, p_on);
  FETCH c_ban INTO l_reason;
  l_found := c_ban%FOUND;
  CLOSE c_ban;
  RETURN l_found;
END vessel_is_banned;
/

CREATE OR REPLACE FUNCTION open_calls_of(p_agent_id IN NUMBER) RETURN SYS_REFCURSOR IS
  l_cursor SYS_REFCURSOR;
BEGIN
  OPEN l_cursor FOR
    SELECT c.call_id, c.eta, v.name
      FROM port_calls c
      JOIN vessels v ON v.vessel_id = c.vessel_id
     WHERE c.agent_id = p_agent_id
       AND c.status IN ('ANNOUNCED', 'CONFIRMED', 'IN PORT')
     ORDER BY c.eta;
  RETURN l_cursor;
END open_calls_of;
/

CREATE OR REPLACE FUNCTION berth_codes(p_parent_id IN NUMBER) RETURN name_list_t PIPELINED IS
BEGIN
  FOR r IN (SELECT code FROM berths WHERE parent_id = p_parent_id ORDER BY sort_order) LOOP
    PIPE ROW (r.code);
  END LOOP;
  RETURN;
END berth_codes;
/

CREATE OR REPLACE FUNCTION tide_at(p_gauge IN VARCHAR2, p_when IN TIMESTAMP, p_quality OUT NUMBER) RETURN NUMBER IS
  l_level NUMBER;
BEGIN
  SELECT level_m, quality
    INTO l_level, p_quality
    FROM tide_readings
   WHERE gauge_code = p_gauge
     AND read_at = (SELECT MAX(read_at) FROM tide_readings WHERE gauge_code = p_gauge AND read_at <= p_when);
  RETURN l_level;
END tide_at;
/

CREATE OR REPLACE FUNCTION check_digit(p_text IN VARCHAR2) RETURN NUMBER AS LANGUAGE JAVA
  NAME 'KestrelCheck.digit(java.lang.String) return int';
/

CREATE OR REPLACE FUNCTION size_points(p_length IN NUMBER, p_tonnage IN NUMBER) RETURN NUMBER
  RESULT_CACHE DETERMINISTIC
IS
  l_points NUMBER(6,1) := 0;
BEGIN
  CASE
    WHEN p_length < 50 THEN
      l_points := 1;
    WHEN p_length < 150 THEN
      l_points := 2.5;
    ELSE
      l_points := 4;
  END CASE;
  WHILE l_points * 10000 < p_tonnage AND l_points < 100 LOOP
    l_points := l_points + 0.5;
  END LOOP;
  RETURN l_points;
END size_points;
/
