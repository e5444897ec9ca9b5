USE yard;

CREATE OR REPLACE ALGORITHM=MERGE DEFINER=`yard`@`%` SQL SECURITY DEFINER VIEW `v_open_orders` AS
select `w`.`order_id` AS `order_id`,`b`.`boat_name` AS `boat_name`,concat(`c`.`name`,' (',`c`.`town`,')') AS `customer`,
to_days(curdate()) - to_days(`w`.`opened_at`) AS `age_days`,if(`w`.`wished_by` < curdate(),'late','') AS `remark`
from ((`work_order` `w` join `boat` `b` on(`b`.`boat_id` = `w`.`boat_id`)) join `customer` `c` on(`c`.`customer_id` = `w`.`customer_id`))
where `w`.`status` in ('open','started') order by `w`.`wished_by`;

CREATE VIEW v_stock_value AS
SELECT p.part_group, COUNT(*) AS parts, SUM(p.stock * p.price) AS value, AVG(p.price) AS mean_price,
       SUM(p.stock * p.price) / (SELECT SUM(stock * price) FROM part) * 100 AS share
FROM part AS p GROUP BY p.part_group;

CREATE VIEW v_worker_week (worker, `year_week`, hours, overtime) AS
SELECT w.worker_name, YEARWEEK(t.worked_on, 3), SUM(t.hours), GREATEST(SUM(t.hours) - w.week_hours, 0)
FROM time_sheet t JOIN worker w ON w.worker_id = t.worker_id
GROUP BY w.worker_name, YEARWEEK(t.worked_on, 3), w.week_hours;

CREATE OR REPLACE VIEW v_boat_tags AS
SELECT b.boat_id, b.boat_name, j.tag, b.details->>'$.hull.material' AS material, b.details->'$.engine.kw' AS kw
FROM boat b, JSON_TABLE(b.details, '$.tags[*]' COLUMNS (rowno FOR ORDINALITY, tag VARCHAR(30) PATH '$' DEFAULT '"none"' ON EMPTY)) AS j;

CREATE VIEW v_lift_gap AS
WITH RECURSIVE days (d) AS (
  SELECT CAST('2025-04-01' AS DATE) UNION ALL SELECT d + INTERVAL 1 DAY FROM days WHERE d < '2025-10-31'
), busy AS (SELECT DATE(planned_at) AS d, COUNT(*) AS lifts FROM lift GROUP BY DATE(planned_at))
SELECT days.d, COALESCE(busy.lifts, 0) AS lifts, 8 - IFNULL(busy.lifts, 0) AS free
FROM days LEFT JOIN busy ON busy.d = days.d;

CREATE VIEW v_price_rank AS
SELECT part_group, part_name, price, RANK() OVER w AS place, price - LAG(price) OVER w AS step,
       FIRST_VALUE(part_name) OVER (PARTITION BY part_group ORDER BY price DESC ROWS BETWEEN UNBOUNDED PRECEDING AND CURRENT ROW) AS dearest
FROM part WINDOW w AS (PARTITION BY part_group ORDER BY price DESC);

CREATE VIEW v_near_places AS
SELECT berth_id, ST_AsText(place) AS wkt, ROUND(ST_Distance_Sphere(place, ST_GeomFromText('POINT(-3.2 57.6)'))) AS metres
FROM berth WHERE MBRContains(ST_GeomFromText('POLYGON((-4 57, -4 58, -3 58, -3 57, -4 57))'), place);

CREATE VIEW v_invoice_due AS
SELECT i.invoice_no, i.due_on, i.amount, PERIOD_DIFF(DATE_FORMAT(NOW(), '%Y%m'), DATE_FORMAT(i.due_on, '%Y%m')) AS months_late,
       CASE WHEN i.due_on = '0000-00-00' THEN 'no date' WHEN i.due_on < CURDATE() THEN 'late' ELSE 'open' END AS state
FROM invoice i WHERE NOT i.is_paid XOR i.is_disputed WITH CHECK OPTION;
