-- What the harbour office looks at all day.

CREATE OR REPLACE VIEW v_open_calls AS
SELECT c.call_id,
       c.eta,
       c.etd,
       c.status,
       v.name AS vessel_name,
       v.call_sign,
       v.length_m,
       a.short_name AS agent
  FROM port_calls c
  JOIN vessels v ON v.vessel_id = c.vessel_id
  JOIN agents a ON a.agent_id = c.agent_id
 WHERE c.status IN ('ANNOUNCED', 'CONFIRMED', 'IN PORT');

CREATE OR REPLACE VIEW v_vessels_in_port AS
SELECT v.vessel_id,
       v.name,
       b.code AS berth_code,
       c.arrived_at,
       c.etd
  FROM vessels v, port_calls c, berths b
 WHERE c.vessel_id = v.vessel_id
   AND c.berth_id = b.berth_id(+)
   AND c.status = 'IN PORT';

CREATE OR REPLACE VIEW v_expected_today AS
SELECT c.call_id,
       v.name || ' (' || v.flag_code || ')' AS vessel,
       TO_CHAR(c.eta, 'HH24:MI') AS eta_time,
       NVL(b.code, '---') AS berth,
       DECODE(c.dangerous_goods, 'Y', 'dangerous goods', 'N', '', 'unknown') AS cargo_note
  FROM port_calls c, vessels v, berths b
 WHERE v.vessel_id = c.vessel_id
   AND b.berth_id(+) = c.berth_id
   AND c.eta BETWEEN TRUNC(SYSDATE) AND TRUNC(SYSDATE) + 1
 ORDER BY c.eta;

CREATE OR REPLACE VIEW v_overdue_departures AS
SELECT c.call_id,
       c.vessel_id,
       c.etd,
       ROUND((SYSDATE - c.etd) * 24, 1) AS hours_late
  FROM port_calls c
 WHERE c.status = 'IN PORT'
   AND c.etd < SYSDATE - 1/24;

CREATE OR REPLACE VIEW v_berth_tree AS
SELECT berth_id,
       LPAD(' ', 2 * (LEVEL - 1)) || name AS indented_name,
       SYS_CONNECT_BY_PATH(code, '/') AS path,
       LEVEL AS depth
  FROM berths
 START WITH parent_id IS NULL
CONNECT BY PRIOR berth_id = parent_id
 ORDER SIBLINGS BY sort_order;

CREATE OR REPLACE VIEW v_berth_occupation AS
SELECT b.berth_id,
       b.code,
       COUNT(m.movement_id) AS stays,
       NVL(SUM(m.unmoored_at - m.moored_at), 0) AS days_used
  FROM berths b, berth_movements m
 WHERE m.berth_id(+) = b.berth_id
   AND m.moored_at(+) >= TO_DATE('2024-01-01', 'YYYY-MM-DD')
   AND b.kind = 'BERTH'
 GROUP BY b.berth_id, b.code;

CREATE OR REPLACE VIEW v_free_berths AS
SELECT b.berth_id, b.code, b.length_m, b.depth_m
  FROM berths b
 WHERE b.kind = 'BERTH' AND b.is_open = 'Y'
MINUS
SELECT b.berth_id, b.code, b.length_m, b.depth_m
  FROM berths b, port_calls c
 WHERE c.berth_id = b.berth_id AND c.status = 'IN PORT';

CREATE OR REPLACE FORCE VIEW v_pilot_board AS
SELECT o.order_id,
       o.ordered_for,
       o.direction,
       v.name AS vessel_name,
       s.full_name AS pilot_name,
       o.status
  FROM pilot_orders o
  JOIN port_calls c ON c.call_id = o.call_id
  JOIN vessels v ON v.vessel_id = c.vessel_id
  LEFT JOIN pilots p ON p.pilot_id = o.pilot_id
  LEFT JOIN staff s ON s.staff_id = p.staff_id
 WHERE o.status <> 'CANCELLED'
  WITH READ ONLY;

CREATE OR REPLACE VIEW v_latest_calls AS
SELECT *
  FROM (SELECT c.call_id, c.vessel_id, c.arrived_at
          FROM port_calls c
         WHERE c.arrived_at IS NOT NULL
         ORDER BY c.arrived_at DESC)
 WHERE ROWNUM <= 20;

CREATE OR REPLACE VIEW v_staff_chain AS
SELECT s.staff_id,
       s.full_name,
       m.full_name AS manager_name
  FROM staff s, staff m
 WHERE s.manager_id = m.staff_id(+);
