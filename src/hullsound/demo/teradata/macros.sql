/* Macros, procedures and views of the traffic warehouse. Run with BTEQ. */
.LOGON tdprod/traffic_dba
.SET WIDTH 200
.SET ERROROUT STDOUT
DATABASE traffic;
.IF ERRORCODE <> 0 THEN .QUIT 8

REPLACE MACRO traffic.month_calls (p_month DATE FORMAT 'YYYY-MM-DD' DEFAULT CURRENT_DATE, p_min INTEGER) AS (
  LOCKING TABLE traffic.port_call FOR ACCESS
  SELECT v.flag (TITLE 'Flag'), COUNT(*) (NAMED calls, FORMAT 'ZZ,ZZ9'), SUM(c.gross_tonnage) AS tons
  FROM traffic.port_call c
  INNER JOIN traffic.vessel v ON v.vessel_id = c.vessel_id
  WHERE c.arrived BETWEEN :p_month - EXTRACT(DAY FROM :p_month) + 1 AND ADD_MONTHS(:p_month, 1)
  GROUP BY 1
  HAVING COUNT(*) GE :p_min
  ORDER BY 3 DESC;
  DELETE FROM traffic.work_month WHERE mon = :p_month;
  INSERT INTO traffic.work_month (mon, calls) SELECT :p_month, COUNT(*) FROM traffic.port_call WHERE arrived (DATE) = :p_month;
);

CREATE MACRO traffic.add_note (id INTEGER, txt VARCHAR(200)) AS (
  UPDATE traffic.note SET txt = :txt WHERE note_id = :id ELSE INSERT INTO traffic.note (note_id, txt) VALUES (:id, :txt);
);

REPLACE VIEW traffic.v_calls AS
LOCKING ROW FOR ACCESS
SEL c.call_id, v.vessel_name, c.arrived, c.departed,
    (c.departed - c.arrived) DAY(4) TO MINUTE AS stay,
    CAST(c.arrived AS DATE FORMAT 'YYYY-MM-DD') AS day_in,
    CASE WHEN c.draught IS NULL THEN 0 ELSE c.draught END (DECIMAL(5,2)) AS draught,
    TRIM(BOTH FROM v.call_sign) || '/' || v.flag AS sign,
    c.arrived (FORMAT 'MM/DD/YYYYBHH:MI') (CHAR(20)) AS shown
FROM traffic.port_call c LEFT JOIN traffic.vessel v ON v.vessel_id = c.vessel_id
WHERE c.status NOT IN ('X', 'D') AND v.vessel_name LIKE ANY ('K%', 'M%') AND c.gross_tonnage MOD 2 = 0
QUALIFY ROW_NUMBER() OVER (PARTITION BY c.vessel_id ORDER BY c.arrived DESC) <= 10;

REPLACE VIEW traffic.v_moving AS
SELECT day_id, calls, AVG(calls) OVER (ORDER BY day_id ROWS BETWEEN 6 PRECEDING AND CURRENT ROW) AS week_mean,
       CSUM(calls, day_id) AS running, MAVG(calls, 7, day_id) AS mavg7,
       SUM(calls) OVER (PARTITION BY port_id ORDER BY day_id RESET WHEN calls < 3 ROWS UNBOUNDED PRECEDING) AS streak,
       RANK(calls DESC) AS place, QUANTILE(10, calls) AS decile, ZEROIFNULL(calls) AS z, NULLIFZERO(calls) nz
FROM traffic.day_fact
WHERE day_id > DATE '2020-01-01' AND day_id NE DATE AND hours_open ** 2 > 4;

REPLACE RECURSIVE VIEW traffic.v_area (area_id, path, depth) AS (
  SELECT area_id, area_name (VARCHAR(500)), 0 FROM traffic.area WHERE parent_id IS NULL
  UNION ALL
  SELECT a.area_id, v.path || '>' || a.area_name, v.depth + 1 FROM traffic.area a INNER JOIN v_area v ON a.parent_id = v.area_id
);

REPLACE VIEW traffic.v_berth_use AS
SELECT NORMALIZE ON MEETS OR OVERLAPS b.berth_id, PERIOD(u.from_ts, u.to_ts) AS used, BEGIN(u.valid) AS since, END(u.valid) AS until
FROM traffic.berth b, traffic.berth_use u
WHERE b.berth_id = u.berth_id AND u.valid OVERLAPS PERIOD(DATE '2024-01-01', UNTIL_CHANGED) AND u.valid CONTAINS CURRENT_DATE;

SELECT TOP 10 WITH TIES flag, tons FROM traffic.flag_fact SAMPLE 0.25 ORDER BY tons DESC;
SELECT berth_id, BEGIN(expd) FROM traffic.berth_use EXPAND ON valid AS expd BY INTERVAL '1' DAY FOR PERIOD(DATE '2024-01-01', DATE '2024-02-01');

REPLACE PROCEDURE traffic.load_day (IN p_day DATE, OUT p_rows INTEGER, INOUT p_state VARCHAR(20))
DYNAMIC RESULT SETS 1
SQL SECURITY OWNER
main: BEGIN
  DECLARE v_sql VARCHAR(2000);
  DECLARE v_count INTEGER DEFAULT 0;
  DECLARE v_port, v_area INTEGER;
  DECLARE c1 CURSOR FOR SELECT port_id, area_id FROM traffic.port WHERE active = 'Y';
  DECLARE c_out CURSOR WITH RETURN ONLY FOR s1;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET p_state = 'END';
  DECLARE EXIT HANDLER FOR SQLEXCEPTION
  BEGIN
    SET p_state = 'FAILED ' || SQLSTATE;
    INSERT INTO traffic.load_log VALUES (CURRENT_TIMESTAMP(0), :p_day, :SQLCODE);
  END;

  BEGIN TRANSACTION;
  DELETE FROM traffic.day_fact WHERE day_id = :p_day;
  OPEN c1;
  next_port: LOOP
    FETCH c1 INTO v_port, v_area;
    IF p_state = 'END' THEN LEAVE next_port; END IF;
    INSERT INTO traffic.day_fact (port_id, day_id, calls, hours_open)
    SELECT :v_port, :p_day, COUNT(*), 24 FROM traffic.port_call WHERE port_id = :v_port AND CAST(arrived AS DATE) = :p_day;
    SET v_count = v_count + ACTIVITY_COUNT;
    IF v_count > 100000 THEN ITERATE next_port;
    ELSEIF v_area IS NULL THEN CALL traffic.warn('no area', v_port);
    ELSE SET p_state = 'RUN';
    END IF;
  END LOOP next_port;
  CLOSE c1;
  END TRANSACTION;

  FOR r AS cr CURSOR FOR SELECT flag FROM traffic.flag_fact DO
    UPDATE traffic.flag_fact SET seen = CURRENT_DATE WHERE flag = r.flag;
  END FOR;
  WHILE v_count > 0 DO SET v_count = v_count - 1000; END WHILE;
  REPEAT SET v_count = v_count + 1; UNTIL v_count >= 0 END REPEAT;
  CASE p_state WHEN 'RUN' THEN SET p_state = 'OK'; ELSE SET p_state = 'EMPTY'; END CASE;
  SET v_sql = 'COLLECT STATISTICS COLUMN (day_id) ON traffic.day_fact;';
  CALL DBC.SysExecSQL(v_sql);
  SET v_sql = 'SELECT port_id, calls FROM traffic.day_fact WHERE day_id = ?';
  PREPARE s1 FROM v_sql;
  OPEN c_out USING p_day;
  SET p_rows = v_count;
END main;

CREATE TRIGGER traffic.call_ai ENABLED AFTER INSERT ON traffic.port_call
REFERENCING NEW AS n FOR EACH ROW
WHEN (n.gross_tonnage > 50000)
(INSERT INTO traffic.big_call VALUES (n.call_id, CURRENT_TIMESTAMP););

REPLACE FUNCTION traffic.knots (miles FLOAT, hours FLOAT) RETURNS FLOAT
LANGUAGE SQL CONTAINS SQL DETERMINISTIC COLLATION INVOKER INLINE TYPE 1
RETURN miles / NULLIFZERO(hours);

MERGE INTO traffic.flag_fact AS t
USING (SELECT flag, SUM(gross_tonnage) AS tons FROM traffic.v_calls x JOIN traffic.port_call p ON p.call_id = x.call_id JOIN traffic.vessel v ON v.vessel_id = p.vessel_id GROUP BY flag) AS s
ON t.flag = s.flag
WHEN MATCHED THEN UPDATE SET tons = s.tons
WHEN NOT MATCHED THEN INSERT (flag, tons) VALUES (s.flag, s.tons) LOGGING ERRORS WITH NO LIMIT;

BT;
UPD traffic.port FROM traffic.area a SET area_name = a.area_name WHERE traffic.port.area_id = a.area_id;
DEL FROM traffic.load_log ALL;
INS traffic.note (1, 'first');
ET;
EXEC traffic.month_calls (DATE '2025-01-01', 5);
CALL traffic.load_day (DATE '2025-01-01', rows_out, 'NEW');
COLLECT STATISTICS USING SAMPLE 10 PERCENT COLUMN (vessel_id), INDEX (port_id, day_id) ON traffic.port_call;
HELP TABLE traffic.vessel;
.LOGOFF
.QUIT 0
