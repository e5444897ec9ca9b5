CREATE OR REPLACE VIEW v_calls (vessel, days) AS
SELECT v.name, c.departed_at - c.arrived_at
  FROM vessels v, port_calls c, berths b
 WHERE v.vessel_id = c.vessel_id(+)
   AND c.berth_id = b.berth_id(+)
   AND v.status = 'A'
WITH READ ONLY;

CREATE VIEW v_first AS
SELECT name FROM vessels WHERE ROWNUM < 6 AND status IS NOT NULL;

CREATE VIEW v_tree AS
SELECT name FROM berths START WITH parent_id IS NULL CONNECT BY PRIOR berth_id = parent_id;
-- becomes ----------------------------------------------------------
-- view.v_calls: drafted
CREATE OR REPLACE VIEW v_calls (vessel, days) AS
SELECT v.name, (extract(epoch FROM (c.departed_at - c.arrived_at)) / 86400)
  FROM vessels v
  LEFT JOIN port_calls c ON v.vessel_id = c.vessel_id
  LEFT JOIN berths b ON c.berth_id = b.berth_id
 WHERE v.status = 'A'
;

-- view.v_first: drafted
CREATE OR REPLACE VIEW v_first AS
SELECT name FROM vessels WHERE status IS NOT NULL LIMIT 5;

-- view.v_tree: confirm
CREATE OR REPLACE VIEW v_tree AS
WITH RECURSIVE hs_tree AS (
  SELECT berths.*, 1 AS hs_level, ARRAY[row_number() OVER ()] AS hs_place
    FROM berths AS berths
   WHERE parent_id IS NULL
  UNION ALL
  SELECT berths.*, hs_above.hs_level + 1, hs_above.hs_place || row_number() OVER ()
    FROM berths AS berths
    JOIN hs_tree AS hs_above ON hs_above.berth_id = berths.parent_id
)
SELECT name
FROM hs_tree AS berths
ORDER BY berths.hs_place;
