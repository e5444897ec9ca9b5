-- Berth planning for the coming week. No state, so that several planners can work at once.
CREATE OR REPLACE PACKAGE pkg_planning IS

  -- Metres of quay that a vessel needs, with room for its lines
  FUNCTION quay_needed(p_length_m IN NUMBER) RETURN NUMBER;

  -- Water under the keel at a berth, in metres; negative where the vessel would touch
  FUNCTION clearance(p_vessel_id IN NUMBER, p_berth_id IN NUMBER) RETURN NUMBER;

  -- How well a berth fits a call: the lower the better, NULL where it does not fit
  FUNCTION berth_score(p_call_id IN NUMBER, p_berth_id IN NUMBER) RETURN NUMBER;

  -- The berth that fits best
  FUNCTION best_berth(p_call_id IN NUMBER) RETURN NUMBER;

  -- Days between two calls of a vessel, on average
  FUNCTION call_interval(p_vessel_id IN NUMBER) RETURN NUMBER;

  -- Minutes that pilots waited in a month
  FUNCTION waiting_minutes(p_month IN DATE) RETURN NUMBER;

  -- Shift all announced calls of a berth by some hours
  PROCEDURE shift_calls(p_berth_id IN NUMBER, p_hours IN NUMBER, p_from IN DATE DEFAULT SYSDATE);

  -- Set departure times that are missing
  PROCEDURE fill_departures(p_default_hours IN NUMBER DEFAULT 18);

  -- Write one line for each call of the week
  PROCEDURE print_week(p_first_day IN DATE DEFAULT TRUNC(SYSDATE, 'IW'));

END pkg_planning;
/

CREATE OR REPLACE PACKAGE BODY pkg_planning IS

  FUNCTION quay_needed(p_length_m IN NUMBER) RETURN NUMBER IS
  BEGIN
    IF p_length_m IS NULL THEN
      RETURN NULL;
    ELSIF p_length_m < 60 THEN
      RETURN p_length_m + 8;
    ELSIF p_length_m < 150 THEN
      RETURN p_length_m + 15;
    ELSE
      RETURN ROUND(p_length_m * 1.12, 1);
    END IF;
  END quay_needed;

  FUNCTION clearance(p_vessel_id IN NUMBER, p_berth_id IN NUMBER) RETURN NUMBER IS
    l_draught vessels.draught_m%TYPE;
    l_depth   berths.depth_m%TYPE;
  BEGIN
    SELECT NVL(v.draught_m, 0) INTO l_draught FROM vessels v WHERE v.vessel_id = p_vessel_id;
    SELECT NVL(b.depth_m, 0) INTO l_depth FROM berths b WHERE b.berth_id = p_berth_id;
    RETURN l_depth - l_draught;
  EXCEPTION
    WHEN NO_DATA_FOUND THEN
      RETURN NULL;
  END clearance;

  FUNCTION berth_score(p_call_id IN NUMBER, p_berth_id IN NUMBER) RETURN NUMBER IS
    l_vessel_id port_calls.vessel_id%TYPE;
    l_eta       port_calls.eta%TYPE;
    l_etd       port_calls.etd%TYPE;
    l_length    vessels.length_m%TYPE;
    l_quay      berths.length_m%TYPE;
    l_crane     berths.has_crane%TYPE;
    l_purpose   port_calls.purpose%TYPE;
    l_score     NUMBER(8,2);
  BEGIN
    SELECT c.vessel_id, c.eta, c.etd, c.purpose, v.length_m
      INTO l_vessel_id, l_eta, l_etd, l_purpose, l_length
      FROM port_calls c, vessels v
     WHERE c.call_id = p_call_id
       AND v.vessel_id = c.vessel_id;

    SELECT b.length_m, b.has_crane
      INTO l_quay, l_crane
      FROM berths b
     WHERE b.berth_id = p_berth_id
       AND b.is_open = 'Y';

    IF l_quay < quay_needed(l_length) OR clearance(l_vessel_id, p_berth_id) < 0.5 THEN
      RETURN NULL;
    END IF;
    IF berth_is_free(p_berth_id, l_eta, l_etd) = 0 THEN
      RETURN NULL;
    END IF;

    l_score := l_quay - quay_needed(l_length);
    l_score := l_score + CASE WHEN l_purpose = 'CARGO' AND l_crane = 'N' THEN 50 ELSE 0 END;
    RETURN l_score;
  EXCEPTION
    WHEN NO_DATA_FOUND THEN
      RETURN NULL;
  END berth_score;

  FUNCTION best_berth(p_call_id IN NUMBER) RETURN NUMBER IS
    l_best       berths.berth_id%TYPE;
    l_best_score NUMBER(8,2);
    l_score      NUMBER(8,2);
  BEGIN
    FOR r IN (SELECT b.berth_id FROM berths b WHERE b.kind = 'BERTH' ORDER BY b.sort_order) LOOP
      l_score := berth_score(p_call_id, r.berth_id);
      IF l_score IS NOT NULL AND (l_best_score IS NULL OR l_score < l_best_score) THEN
        l_best := r.berth_id;
        l_best_score := l_score;
      END IF;
      EXIT WHEN l_best_score = 0;
    END LOOP;
    RETURN l_best;
  END best_berth;

  FUNCTION call_interval(p_vessel_id IN NUMBER) RETURN NUMBER IS
    l_first DATE;
    l_last  DATE;
    l_calls NUMBER(6);
  BEGIN
    SELECT MIN(c.arrived_at), MAX(c.arrived_at), COUNT(*)
      INTO l_first, l_last, l_calls
      FROM port_calls c
     WHERE c.vessel_id = p_vessel_id
       AND c.arrived_at IS NOT NULL;
    IF l_calls < 2 THEN
      RETURN NULL;
    END IF;
    RETURN ROUND((l_last - l_first) / (l_calls - 1), 1);
  END call_interval;

  FUNCTION waiting_minutes(p_month IN DATE) RETURN NUMBER IS
    l_minutes NUMBER(10);
  BEGIN
    SELECT NVL(SUM(o.waiting_minutes), 0)
      INTO l_minutes
      FROM pilot_orders o
     WHERE o.ordered_for >= TRUNC(p_month, 'MM')
       AND o.ordered_for < LAST_DAY(TRUNC(p_month, 'MM')) + 1
       AND o.status = 'DONE';
    RETURN l_minutes;
  END waiting_minutes;

  PROCEDURE shift_calls(p_berth_id IN NUMBER, p_hours IN NUMBER, p_from IN DATE DEFAULT SYSDATE) IS
    l_moved NUMBER(6);
  BEGIN
    UPDATE port_calls c
       SET c.eta = c.eta + p_hours / 24,
           c.etd = c.etd + p_hours / 24,
           c.changed_at = SYSDATE,
           c.changed_by = USER
     WHERE c.berth_id = p_berth_id
       AND c.status IN ('ANNOUNCED', 'CONFIRMED')
       AND c.eta >= p_from;
    l_moved := SQL%ROWCOUNT;
    IF l_moved = 0 THEN
      DBMS_OUTPUT.PUT_LINE('Nothing to move at berth ' || p_berth_id);
    ELSE
      DBMS_OUTPUT.PUT_LINE(l_moved || ' calls moved by ' || p_hours || ' hours');
    END IF;
  END shift_calls;

  PROCEDURE fill_departures(p_default_hours IN NUMBER DEFAULT 18) IS
    CURSOR c_open IS
      SELECT call_id, eta, purpose
        FROM port_calls
       WHERE etd IS NULL
         AND status <> 'CANCELLED'
         FOR UPDATE;
    l_hours NUMBER(4);
  BEGIN
    FOR r IN c_open LOOP
      l_hours := CASE r.purpose
                   WHEN 'PASSENGER' THEN 10
                   WHEN 'BUNKER' THEN 6
                   WHEN 'REPAIR' THEN 240
                   ELSE p_default_hours
                 END;
      UPDATE port_calls SET etd = r.eta + l_hours / 24 WHERE CURRENT OF c_open;
    END LOOP;
  END fill_departures;

  PROCEDURE print_week(p_first_day IN DATE DEFAULT TRUNC(SYSDATE, 'IW')) IS
    l_day   DATE;
    l_count NUMBER(4);
  BEGIN
    FOR i IN 0 .. 6 LOOP
      l_day := p_first_day + i;
      l_count := 0;
      <<calls>>
      FOR r IN (SELECT v.name, c.eta, NVL(b.code, '---') AS berth
                  FROM port_calls c, vessels v, berths b
                 WHERE v.vessel_id = c.vessel_id
                   AND b.berth_id(+) = c.berth_id
                   AND c.eta >= l_day
                   AND c.eta < l_day + 1
                 ORDER BY c.eta) LOOP
        l_count := l_count + 1;
        EXIT calls WHEN l_count > 50;
        DBMS_OUTPUT.PUT_LINE(TO_CHAR(r.eta, 'DY HH24:MI') || '  ' || RPAD(r.name, 30) || ' ' || r.berth);
      END LOOP calls;
      DBMS_OUTPUT.PUT_LINE(TO_CHAR(l_day, 'DD.MM.') || ': ' || l_count || ' calls');
    END LOOP;
  END print_week;

END pkg_planning;
/
