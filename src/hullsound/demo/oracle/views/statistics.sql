-- Yearly figures, and the views that keep them.

CREATE OR REPLACE VIEW v_calls_by_flag AS
SELECT v.flag_code,
       COUNT(*) AS calls,
       SUM(v.gross_tonnage) AS tonnage,
       RANK() OVER (ORDER BY COUNT(*) DESC) AS place
  FROM port_calls c
  JOIN vessels v ON v.vessel_id = c.vessel_id
 WHERE c.status = 'DEPARTED'
 GROUP BY v.flag_code;

CREATE OR REPLACE VIEW v_calls_by_purpose AS
SELECT *
  FROM (SELECT TO_CHAR(c.eta, 'YYYY') AS year, c.purpose, c.call_id FROM port_calls c)
 PIVOT (COUNT(call_id) FOR purpose IN ('CARGO' AS cargo, 'PASSENGER' AS passenger, 'BUNKER' AS bunker));

CREATE OR REPLACE VIEW v_median_stay AS
SELECT v.type_code,
       MEDIAN(c.departed_at - c.arrived_at) AS median_days,
       AVG(c.departed_at - c.arrived_at) AS mean_days
  FROM port_calls c
  JOIN vessels v ON v.vessel_id = c.vessel_id
 WHERE c.departed_at IS NOT NULL
 GROUP BY v.type_code;

CREATE OR REPLACE VIEW v_last_inspection AS
SELECT c.vessel_id,
       MAX(i.result_code) KEEP (DENSE_RANK LAST ORDER BY i.inspected_at) AS last_result,
       MAX(i.inspected_at) AS inspected_at
  FROM inspections i
  JOIN port_calls c ON c.call_id = i.call_id
 GROUP BY c.vessel_id;

CREATE OR REPLACE VIEW v_calendar AS
WITH days (day_no) AS (
  SELECT 0 FROM dual
  UNION ALL
  SELECT day_no + 1 FROM days WHERE day_no < 365
)
SELECT TRUNC(SYSDATE, 'YYYY') + day_no AS day FROM days;

CREATE OR REPLACE VIEW v_cargo_totals AS
SELECT m.direction,
       t.name AS cargo,
       SUM(i.gross_tons) AS tons,
       GROUPING(t.name) AS is_total
  FROM manifests m
  JOIN manifest_items i ON i.manifest_id = m.manifest_id
  JOIN cargo_types t ON t.cargo_code = i.cargo_code
 GROUP BY m.direction, ROLLUP (t.name);

CREATE MATERIALIZED VIEW mv_monthly_calls
BUILD IMMEDIATE
REFRESH COMPLETE ON DEMAND
AS
SELECT TRUNC(c.arrived_at, 'MM') AS month,
       v.type_code,
       COUNT(*) AS calls,
       SUM(v.gross_tonnage) AS tonnage
  FROM port_calls c
  JOIN vessels v ON v.vessel_id = c.vessel_id
 WHERE c.arrived_at IS NOT NULL
 GROUP BY TRUNC(c.arrived_at, 'MM'), v.type_code;

CREATE MATERIALIZED VIEW LOG ON invoice_lines WITH ROWID;

CREATE MATERIALIZED VIEW mv_revenue_by_service
BUILD IMMEDIATE
REFRESH FAST START WITH SYSDATE NEXT TRUNC(SYSDATE) + 1 + 3/24
ENABLE QUERY REWRITE
AS
SELECT l.service_code,
       SUM(l.net_amount) AS revenue,
       COUNT(*) AS line_count
  FROM invoice_lines l
 GROUP BY l.service_code;

CREATE MATERIALIZED VIEW mv_agent_turnover
REFRESH FAST ON COMMIT
AS
SELECT i.agent_id, SUM(i.net_amount) AS turnover, COUNT(*) AS invoices
  FROM invoices i
 GROUP BY i.agent_id;
