CREATE OR REPLACE PACKAGE BODY pkg_port_call IS

  -- Raise an error if the vessel may not call
  PROCEDURE check_vessel(p_vessel_id IN NUMBER, p_on IN DATE) IS
    l_status vessels.status%TYPE;
  BEGIN
    SELECT v.status INTO l_status FROM vessels v WHERE v.vessel_id = p_vessel_id;
    IF l_status = 'BANNED' OR vessel_is_banned(p_vessel_id, p_on) THEN
      RAISE_APPLICATION_ERROR(-20020, 'Vessel ' || vessel_label(p_vessel_id) || ' is banned');
    END IF;
  EXCEPTION
    WHEN NO_DATA_FOUND THEN
      RAISE_APPLICATION_ERROR(-20021, 'No vessel ' || p_vessel_id);
  END check_vessel;

  FUNCTION announce(
    p_vessel_id IN NUMBER,
    p_agent_id  IN NUMBER,
    p_eta       IN DATE,
    p_purpose   IN VARCHAR2 DEFAULT 'CARGO'
  ) RETURN NUMBER IS
    l_call_id port_calls.call_id%TYPE;
  BEGIN
    check_vessel(p_vessel_id, p_eta);
    IF p_eta < SYSDATE THEN
      RAISE_APPLICATION_ERROR(-20022, 'A call cannot be announced for the past');
    END IF;
    INSERT INTO port_calls (call_id, vessel_id, agent_id, purpose, eta)
    VALUES (port_call_seq.NEXTVAL, p_vessel_id, p_agent_id, p_purpose, p_eta)
    RETURNING call_id INTO l_call_id;
    add_event(l_call_id, 'ANNOUNCE');
    RETURN l_call_id;
  END announce;

  PROCEDURE change_eta(p_call_id IN NUMBER, p_eta IN DATE) IS
    l_old port_calls.eta%TYPE;
  BEGIN
    SELECT eta INTO l_old FROM port_calls WHERE call_id = p_call_id;
    UPDATE port_calls
       SET eta = p_eta,
           etd = etd + (p_eta - eta)
     WHERE call_id = p_call_id;
    IF ABS(p_eta - l_old) > 0.5 THEN
      add_event(p_call_id, 'RESCHEDULE', 'moved by ' || ROUND((p_eta - l_old) * 24) || ' hours');
    END IF;
  END change_eta;

  PROCEDURE order_pilot(p_call_id IN NUMBER, p_direction IN VARCHAR2, p_when IN DATE) IS
    l_needs vessel_types.needs_pilot%TYPE;
    l_loa   vessels.length_m%TYPE;
    l_tugs  NUMBER(2);
  BEGIN
    SELECT t.needs_pilot, v.length_m
      INTO l_needs, l_loa
      FROM port_calls c
      JOIN vessels v ON v.vessel_id = c.vessel_id
      JOIN vessel_types t ON t.type_code = v.type_code
     WHERE c.call_id = p_call_id;
    IF l_needs = 'N' AND l_loa < 90 THEN
      RETURN;
    END IF;
    CASE
      WHEN l_loa > 250 THEN l_tugs := 3;
      WHEN l_loa > 150 THEN l_tugs := 2;
      WHEN l_loa > 90 THEN l_tugs := 1;
      ELSE l_tugs := 0;
    END CASE;
    INSERT INTO pilot_orders (order_id, call_id, direction, ordered_for, tugs_ordered)
    VALUES (pilot_order_seq.NEXTVAL, p_call_id, p_direction, p_when, l_tugs);
  END order_pilot;

  FUNCTION find_berth(p_call_id IN NUMBER) RETURN NUMBER IS
    l_call  port_calls%ROWTYPE;
    l_loa   vessels.length_m%TYPE;
    l_type  vessels.type_code%TYPE;
  BEGIN
    SELECT * INTO l_call FROM port_calls WHERE call_id = p_call_id;
    SELECT length_m, type_code INTO l_loa, l_type FROM vessels WHERE vessel_id = l_call.vessel_id;
    FOR r IN (SELECT b.berth_id
                FROM berths b
               WHERE b.kind = 'BERTH'
                 AND b.is_open = 'Y'
                 AND NVL(b.max_loa_m, 999) >= l_loa
                 AND NOT EXISTS (SELECT 1 FROM berth_restrictions x WHERE x.berth_id = b.berth_id AND x.type_code = l_type)
               ORDER BY b.length_m, b.sort_order) LOOP
      IF berth_is_free(r.berth_id, l_call.eta, l_call.etd) = 1 THEN
        RETURN r.berth_id;
      END IF;
    END LOOP;
    RETURN NULL;
  END find_berth;

  FUNCTION stay_hours(p_call_id IN NUMBER) RETURN NUMBER IS
    l_from  DATE;
    l_until DATE;
  BEGIN
    SELECT arrived_at, NVL(departed_at, SYSDATE) INTO l_from, l_until FROM port_calls WHERE call_id = p_call_id;
    RETURN hours_between(l_from, l_until);
  END stay_hours;

  PROCEDURE plan_day(p_day IN DATE DEFAULT TRUNC(SYSDATE), p_planned OUT NUMBER) IS
    CURSOR c_calls IS
      SELECT call_id, berth_id
        FROM port_calls
       WHERE eta >= p_day AND eta < p_day + 1
         AND status = 'ANNOUNCED'
       ORDER BY eta;
    l_call_id  port_calls.call_id%TYPE;
    l_berth_id port_calls.berth_id%TYPE;
  BEGIN
    p_planned := 0;
    OPEN c_calls;
    LOOP
      FETCH c_calls INTO l_call_id, l_berth_id;
      EXIT WHEN c_calls%NOTFOUND;
      IF l_berth_id IS NULL THEN
        l_berth_id := find_berth(l_call_id);
      END IF;
      IF l_berth_id IS NOT NULL THEN
        confirm_call(l_call_id, l_berth_id);
        p_planned := p_planned + 1;
      END IF;
    END LOOP;
    CLOSE c_calls;
  END plan_day;

END pkg_port_call;
/
