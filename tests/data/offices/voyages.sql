CREATE MULTISET TABLE dw.voyage, NO FALLBACK, NO BEFORE JOURNAL, NO AFTER JOURNAL, CHECKSUM = DEFAULT
 ( voyage_id INTEGER NOT NULL,
   ship      VARCHAR(40) CHARACTER SET LATIN NOT CASESPECIFIC,
   dep_dt    DATE FORMAT 'YYYY-MM-DD' NOT NULL,
   arr_dt    DATE FORMAT 'YYYY-MM-DD',
   tonnes    DECIMAL(12,3) COMPRESS (0.000),
   teu       BYTEINT,
   cargo     CHAR(10) CASESPECIFIC COMPRESS ('GRAIN','OIL'),
   loaded_ts TIMESTAMP(0) DEFAULT CURRENT_TIMESTAMP(0)
 ) PRIMARY INDEX (voyage_id)
 PARTITION BY RANGE_N(dep_dt BETWEEN DATE '2020-01-01' AND DATE '2024-12-31' EACH INTERVAL '1' YEAR);
CREATE SET TABLE dw.port (port_cd CHAR(5) NOT NULL, port_nm VARCHAR(60), region VARCHAR(20), lat FLOAT, lon FLOAT) UNIQUE PRIMARY INDEX (port_cd);
CREATE TABLE dw.leg (voyage_id INTEGER, leg_no SMALLINT, from_cd CHAR(5), to_cd CHAR(5), hours DECIMAL(8,2), PRIMARY KEY (voyage_id, leg_no));
COLLECT STATISTICS ON dw.voyage COLUMN (voyage_id);
REPLACE VIEW dw.v_latest AS LOCKING ROW FOR ACCESS
SELECT ship, voyage_id, dep_dt, arr_dt - dep_dt AS days_out, ZEROIFNULL(tonnes) AS tonnes, NULLIFZERO(teu) AS teu
FROM dw.voyage QUALIFY ROW_NUMBER() OVER (PARTITION BY ship ORDER BY dep_dt DESC) = 1;
REPLACE VIEW dw.v_monthly AS
SEL EXTRACT(YEAR FROM dep_dt) AS yr, EXTRACT(MONTH FROM dep_dt) AS mo, COUNT(*) AS n, SUM(tonnes) AS t,
 CAST(dep_dt AS FORMAT 'YYYYMM') (CHAR(6)) AS ym, ADD_MONTHS(dep_dt, 1) AS nxt
FROM dw.voyage GROUP BY 1,2,5,6;
REPLACE VIEW dw.v_ports AS
SELECT TRIM(port_nm) || ' (' || port_cd || ')' AS label, CHARACTERS(port_nm) AS len, INDEX(port_nm, 'a') AS pos, SUBSTR(port_nm, 1, 3) AS abbr,
 UPPER(region) AS region, lat ** 2 AS l2, port_cd (VARCHAR(5)) AS cd, OREPLACE(port_nm, ' ', '_') AS nm
FROM dw.port WHERE region LIKE ANY ('N%', 'S%') AND port_cd NE 'XXXXX';
REPLACE VIEW dw.v_pairs AS
SELECT l.from_cd, l.to_cd, AVG(l.hours) AS h, RANK() OVER (ORDER BY AVG(l.hours) DESC) AS rk,
  MAX(l.hours) OVER (PARTITION BY l.from_cd ROWS BETWEEN UNBOUNDED PRECEDING AND UNBOUNDED FOLLOWING) AS mx
FROM dw.leg l GROUP BY l.from_cd, l.to_cd, l.hours;
REPLACE VIEW dw.v_top AS SELECT TOP 5 ship, SUM(tonnes) AS t FROM dw.voyage GROUP BY ship ORDER BY 2 DESC;
REPLACE MACRO dw.ship_voyages (shp VARCHAR(40), since DATE) AS (
 SELECT voyage_id, dep_dt, tonnes FROM dw.voyage WHERE ship = :shp AND dep_dt >= :since ORDER BY dep_dt;
);
REPLACE MACRO dw.fix_neg AS ( UPDATE dw.voyage SET tonnes = 0 WHERE tonnes < 0; DELETE FROM dw.leg WHERE hours IS NULL; );
REPLACE PROCEDURE dw.load_voyage (IN p_id INTEGER, IN p_ship VARCHAR(40), IN p_dep DATE, OUT p_rc INTEGER)
BEGIN
  DECLARE v_n INTEGER DEFAULT 0;
  DECLARE EXIT HANDLER FOR SQLEXCEPTION
  BEGIN
    SET p_rc = -1;
  END;
  SELECT COUNT(*) INTO :v_n FROM dw.voyage WHERE voyage_id = :p_id;
  IF v_n = 0 THEN
    INSERT INTO dw.voyage (voyage_id, ship, dep_dt) VALUES (:p_id, :p_ship, :p_dep);
  ELSE
    UPDATE dw.voyage SET ship = :p_ship, dep_dt = :p_dep WHERE voyage_id = :p_id;
  END IF;
  SET p_rc = ACTIVITY_COUNT;
END;
REPLACE PROCEDURE dw.recalc (IN p_from DATE)
BEGIN
  DECLARE v_tot DECIMAL(14,3);
  FOR c1 AS cur1 CURSOR FOR SELECT voyage_id AS vid, tonnes AS tn FROM dw.voyage WHERE dep_dt >= p_from DO
    SET v_tot = COALESCE(v_tot, 0) + COALESCE(c1.tn, 0);
    IF c1.tn IS NULL THEN
      UPDATE dw.voyage SET tonnes = 0 WHERE voyage_id = c1.vid;
    END IF;
  END FOR;
  CALL DBC.SysExecSQL('DELETE FROM dw.leg WHERE hours < 0');
END;
REPLACE FUNCTION dw.knots (nm FLOAT, h FLOAT) RETURNS FLOAT LANGUAGE SQL CONTAINS SQL DETERMINISTIC
SQL SECURITY DEFINER COLLATION INVOKER INLINE TYPE 1 RETURN CASE WHEN h = 0 THEN NULL ELSE nm / h END;
CREATE VOLATILE TABLE vt_ship AS (SELECT ship, COUNT(*) AS n FROM dw.voyage GROUP BY ship) WITH DATA PRIMARY INDEX (ship) ON COMMIT PRESERVE ROWS;
MERGE INTO dw.port AS t USING (SELECT 'KBHRB' AS cd, 'Kestrel Bay' AS nm) AS s ON t.port_cd = s.cd
WHEN MATCHED THEN UPDATE SET port_nm = s.nm WHEN NOT MATCHED THEN INSERT (port_cd, port_nm) VALUES (s.cd, s.nm);
UPDATE v FROM dw.voyage v, dw.leg l SET arr_dt = v.dep_dt + 1 WHERE v.voyage_id = l.voyage_id AND l.leg_no = 9;
DEL FROM dw.leg ALL;
CREATE TRIGGER dw.trg AFTER INSERT ON dw.voyage REFERENCING NEW AS n FOR EACH ROW (INSERT INTO dw.leg (voyage_id, leg_no) VALUES (n.voyage_id, 1););
