SET search_path TO visitor;
CREATE OR REPLACE VIEW arrivals_today WITH (security_barrier = true) AS
SELECT b.booking_id, v.name, v.flag, b.arrive, b.leave, (b.leave - b.arrive) AS nights, count(*) FILTER (WHERE p.is_child) AS children,
       string_agg(p.name, ', ' ORDER BY p.name) AS crew, array_agg(DISTINCT p.nationality) AS flags
FROM booking b JOIN vessel v ON v.vessel_id = b.vessel_id LEFT JOIN person p ON p.booking_id = b.booking_id
WHERE b.arrive = CURRENT_DATE AND b.state <> ALL (ARRAY['cancelled'::booking_state, 'noshow'])
GROUP BY b.booking_id, v.name, v.flag;
CREATE MATERIALIZED VIEW occupancy AS
SELECT d::date AS day, count(s.stay_id) AS taken, round(100.0 * count(s.stay_id) / nullif((SELECT count(*) FROM berth), 0), 1) AS percent
FROM generate_series(date_trunc('year', now()), now(), '1 day'::interval) AS g(d)
LEFT JOIN stay s ON s.nights @> g.d::date
GROUP BY ROLLUP (d) WITH NO DATA;
CREATE UNIQUE INDEX occupancy_day ON occupancy (day);
CREATE VIEW tide_next AS
SELECT DISTINCT ON (port) port, at_time AT TIME ZONE 'Europe/London' AS local, height_m,
       lead(height_m) OVER w - height_m AS rise, percent_rank() OVER (PARTITION BY port ORDER BY height_m) pr
FROM tide WHERE at_time > now() WINDOW w AS (PARTITION BY port ORDER BY at_time) ORDER BY port, at_time;
CREATE RECURSIVE VIEW area_tree (area_id, path, depth) AS
SELECT area_id, name::text, 0 FROM area WHERE parent_id IS NULL
UNION ALL SELECT a.area_id, t.path || ' / ' || a.name, t.depth + 1 FROM area a JOIN area_tree t ON t.area_id = a.parent_id;
CREATE VIEW spending AS
WITH paid AS MATERIALIZED (SELECT stay_id, sum(amount) AS amount FROM payment GROUP BY 1)
SELECT i.invoice_id, i.total, coalesce(p.amount, 0) AS paid, i.details #>> '{agent,name}' AS agent, i.details ? 'discount' AS reduced,
       (i.details -> 'lines' -> 0 ->> 'text') AS first_line, x.*
FROM invoice i LEFT JOIN paid p USING (stay_id)
CROSS JOIN LATERAL (SELECT max(q.paid_at) AS last_paid FROM payment q WHERE q.stay_id = i.stay_id) x
WHERE i.issued_on BETWEEN SYMMETRIC '2024-12-31' AND '2024-01-01' OR i.total IS DISTINCT FROM p.amount;
CREATE RULE no_update_tide AS ON UPDATE TO tide WHERE old.at_time < now() DO INSTEAD NOTHING;
CREATE RULE log_area AS ON DELETE TO area DO ALSO (INSERT INTO change_log (tab, op) VALUES ('area', 'D'); NOTIFY areas);
COMMENT ON VIEW arrivals_today IS 'What the desk prints every morning';
COMMENT ON FUNCTION visitor.berth_price(numeric, integer, text) IS 'Price of a stay; NULL where no tariff holds';
