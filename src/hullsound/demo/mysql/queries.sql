-- Queries that the yard's terminals send.
USE yard;
SELECT b.boat_id, b.boat_name, COALESCE(CONCAT(x.area, '-', x.number), 'afloat') place FROM boat b
  LEFT JOIN lay_up l ON l.boat_id = b.boat_id AND l.launched_at IS NULL LEFT JOIN berth x ON x.berth_id = l.berth_id
  ORDER BY FIELD(b.hull, 'wood', 'steel', 'alu', 'grp', 'other'), b.boat_name LIMIT 100 OFFSET 200;
SELECT SUBSTRING_INDEX(mail, '@', -1) AS host, COUNT(*) FROM customer GROUP BY 1 ORDER BY 2 DESC;
SELECT part_id, MATCH(part_name, remark) AGAINST ('+rope -chain' IN BOOLEAN MODE) AS score FROM part
  WHERE MATCH(part_name, remark) AGAINST ('+rope -chain' IN BOOLEAN MODE) HAVING score > 0.2;
SELECT worker_id, SUM(hours) FROM time_sheet FORCE INDEX (ix_time_sheet_day) WHERE worked_on >= 20240101 GROUP BY worker_id WITH ROLLUP;
(SELECT 'boat' AS kind, boat_name AS what FROM boat WHERE boat_name LIKE '%tern%' ESCAPE '|')
UNION ALL (SELECT 'part', part_name FROM part WHERE part_name RLIKE '^T' LIMIT 5) ORDER BY kind, what;
SELECT @rank := IF(@g = part_group, @rank + 1, 1) AS place, @g := part_group AS g, part_name FROM part, (SELECT @rank := 0, @g := '') init ORDER BY part_group, price DESC;
SELECT * FROM work_order WHERE (boat_id, status) IN ((1, 'open'), (2, 'started')) AND opened_at > '2024-01-01' LOCK IN SHARE MODE;
SELECT order_id, HEX(AES_ENCRYPT(description, 'k')) FROM work_order WHERE status = 'open' FOR UPDATE SKIP LOCKED;
SELECT equipment & 2 AS has_radar, equipment + 0, hull + 0 FROM boat WHERE FIND_IN_SET('crane', equipment);
SELECT boat_id, 5 DIV 2, 5 MOD 2, 7 % 3, ~0, 1 << 3, 'a' || 'b', NOT 0, !1, 1 <=> NULL, BINARY boat_name = 'Tern', _latin1'x' COLLATE latin1_bin FROM boat;
SELECT IF(done_at, 'done', 'open') s, TIMESTAMPDIFF(MINUTE, planned_at, done_at) late, EXTRACT(YEAR_MONTH FROM planned_at) ym FROM lift;
INSERT INTO setting VALUES ('last_seen', NOW()) ON DUPLICATE KEY UPDATE value = VALUES(value);
INSERT INTO order_line (order_id, line_no, task_code) VALUES (1, 1, 'T0001'), (1, 2, 'T0002'), (1, 3, 'T0003');
REPLACE INTO holiday SELECT DATE_ADD(holiday_date, INTERVAL 1 YEAR), holiday_name FROM holiday WHERE holiday_name NOT LIKE 'Easter%';
UPDATE part SET stock = stock + CASE part_group WHEN 'ROPE' THEN 10 WHEN 'BOLT' THEN 100 ELSE 0 END WHERE discontinued = 0 ORDER BY part_id LIMIT 500;
DELETE l, w FROM order_line l INNER JOIN work_order w ON w.order_id = l.order_id WHERE w.status = 'open' AND w.opened_at < NOW() - INTERVAL 3 YEAR;
CALL open_order(12, 'paint', '2025-05-01', 'Hull and \'top\' sides', @id);
SET @total = 0;
CALL close_order(@id, @total);
EXPLAIN FORMAT=JSON SELECT * FROM v_open_orders WHERE age_days > 30;
HANDLER part OPEN AS p;
HANDLER p READ uk_part_part_code = ('ROPE12') WHERE stock > 0 LIMIT 1;
HANDLER p CLOSE;
