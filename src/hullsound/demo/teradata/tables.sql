/* Tables of the traffic statistics warehouse. */
.LOGON tdprod/traffic_dba
CREATE DATABASE traffic FROM dbc AS PERMANENT = 60e9, SPOOL = 120e9 FALLBACK NO BEFORE JOURNAL;
CREATE USER traffic_load FROM traffic AS PASSWORD = change_me, DEFAULT DATABASE = traffic;
DATABASE traffic;
SET QUERY_BAND = 'app=warehouse;step=ddl;' FOR SESSION;
CREATE MULTISET TABLE traffic.port ,NO FALLBACK ,
     NO BEFORE JOURNAL,
     NO AFTER JOURNAL,
     CHECKSUM = DEFAULT,
     DEFAULT MERGEBLOCKRATIO
     (
      port_id INTEGER NOT NULL,
      port_name VARCHAR(60) CHARACTER SET UNICODE NOT CASESPECIFIC NOT NULL,
      area_id INTEGER,
      area_name VARCHAR(60),
      active CHAR(1) DEFAULT 'Y' UPPERCASE,
      place ST_GEOMETRY(16776192) INLINE LENGTH 9920)
UNIQUE PRIMARY INDEX (port_id);

COMMENT ON TABLE traffic.port AS 'port, loaded every night';

COMMENT ON COLUMN traffic.port.port_id AS 'port id';
COMMENT ON COLUMN traffic.port.port_name AS 'port name';
COMMENT ON COLUMN traffic.port.area_id AS 'area id';
COMMENT ON COLUMN traffic.port.area_name AS 'area name';
COMMENT ON COLUMN traffic.port.active AS 'active';
COMMENT ON COLUMN traffic.port.place AS 'place';
CREATE SET TABLE traffic.area ,NO FALLBACK ,
     NO BEFORE JOURNAL,
     NO AFTER JOURNAL,
     CHECKSUM = DEFAULT,
     DEFAULT MERGEBLOCKRATIO
     (
      area_id INTEGER NOT NULL,
      parent_id INTEGER,
      area_name VARCHAR(60) TITLE 'Area' COMPRESS ('North', 'South', 'Inner'))
UNIQUE PRIMARY INDEX area_pi (area_id);

COMMENT ON TABLE traffic.area AS 'area, loaded every night';

COMMENT ON COLUMN traffic.area.area_id AS 'area id';
COMMENT ON COLUMN traffic.area.parent_id AS 'parent id';
COMMENT ON COLUMN traffic.area.area_name AS 'area name';
CREATE MULTISET TABLE traffic.vessel ,NO FALLBACK ,
     NO BEFORE JOURNAL,
     NO AFTER JOURNAL,
     CHECKSUM = DEFAULT,
     DEFAULT MERGEBLOCKRATIO
     (
      vessel_id INTEGER NOT NULL GENERATED ALWAYS AS IDENTITY (START WITH 1 INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 NO CYCLE),
      vessel_name VARCHAR(80) CHARACTER SET LATIN CASESPECIFIC,
      call_sign CHAR(8),
      flag CHAR(2) COMPRESS,
      built SMALLINT FORMAT '9999',
      length_m NUMBER(7,2),
      papers CLOB(1M),
      picture BLOB,
      hash BYTE(16))
PRIMARY INDEX (vessel_id);

COMMENT ON TABLE traffic.vessel AS 'vessel, loaded every night';

COMMENT ON COLUMN traffic.vessel.vessel_id AS 'vessel id';
COMMENT ON COLUMN traffic.vessel.vessel_name AS 'vessel name';
COMMENT ON COLUMN traffic.vessel.call_sign AS 'call sign';
COMMENT ON COLUMN traffic.vessel.flag AS 'flag';
COMMENT ON COLUMN traffic.vessel.built AS 'built';
COMMENT ON COLUMN traffic.vessel.length_m AS 'length m';
COMMENT ON COLUMN traffic.vessel.papers AS 'papers';
COMMENT ON COLUMN traffic.vessel.picture AS 'picture';
COMMENT ON COLUMN traffic.vessel.hash AS 'hash';
CREATE MULTISET TABLE traffic.port_call ,FALLBACK ,
     NO BEFORE JOURNAL,
     NO AFTER JOURNAL,
     CHECKSUM = DEFAULT,
     DEFAULT MERGEBLOCKRATIO
     (
      call_id BIGINT NOT NULL,
      port_id INTEGER NOT NULL,
      vessel_id INTEGER NOT NULL,
      arrived TIMESTAMP(0) NOT NULL FORMAT 'YYYY-MM-DDBHH:MI:SS',
      departed TIMESTAMP(0) WITH TIME ZONE,
      gross_tonnage DECIMAL(12,0),
      draught DECIMAL(5,2),
      status CHAR(1) DEFAULT 'P' CHECK (status IN ('P','A','D','X')),
      agent VARCHAR(60),
      CONSTRAINT fk_call_vessel FOREIGN KEY (vessel_id) REFERENCES WITH NO CHECK OPTION traffic.vessel (vessel_id))
PRIMARY INDEX (vessel_id)
PARTITION BY (RANGE_N(CAST(arrived AS DATE) BETWEEN DATE '2015-01-01' AND DATE '2026-12-31' EACH INTERVAL '1' MONTH, NO RANGE OR UNKNOWN),
              CASE_N(port_id = 1, port_id = 2, NO CASE))
INDEX (port_id) ORDER BY VALUES (port_id);

COMMENT ON TABLE traffic.port_call AS 'port call, loaded every night';

COMMENT ON COLUMN traffic.port_call.call_id AS 'call id';
COMMENT ON COLUMN traffic.port_call.port_id AS 'port id';
COMMENT ON COLUMN traffic.port_call.vessel_id AS 'vessel id';
COMMENT ON COLUMN traffic.port_call.arrived AS 'arrived';
COMMENT ON COLUMN traffic.port_call.departed AS 'departed';
COMMENT ON COLUMN traffic.port_call.gross_tonnage AS 'gross tonnage';
COMMENT ON COLUMN traffic.port_call.draught AS 'draught';
COMMENT ON COLUMN traffic.port_call.status AS 'status';
COMMENT ON COLUMN traffic.port_call.agent AS 'agent';
CREATE MULTISET TABLE traffic.day_fact ,NO FALLBACK ,
     NO BEFORE JOURNAL,
     NO AFTER JOURNAL,
     CHECKSUM = DEFAULT,
     DEFAULT MERGEBLOCKRATIO
     (
      port_id INTEGER NOT NULL,
      day_id DATE FORMAT 'YYYY-MM-DD' NOT NULL,
      calls INTEGER,
      hours_open BYTEINT,
      tons FLOAT)
PRIMARY INDEX (port_id, day_id)
PARTITION BY RANGE_N(day_id BETWEEN DATE '2015-01-01' AND DATE '2030-12-31' EACH INTERVAL '1' DAY);

COMMENT ON TABLE traffic.day_fact AS 'day fact, loaded every night';

COMMENT ON COLUMN traffic.day_fact.port_id AS 'port id';
COMMENT ON COLUMN traffic.day_fact.day_id AS 'day id';
COMMENT ON COLUMN traffic.day_fact.calls AS 'calls';
COMMENT ON COLUMN traffic.day_fact.hours_open AS 'hours open';
COMMENT ON COLUMN traffic.day_fact.tons AS 'tons';
CREATE SET TABLE traffic.flag_fact ,NO FALLBACK ,
     NO BEFORE JOURNAL,
     NO AFTER JOURNAL,
     CHECKSUM = DEFAULT,
     DEFAULT MERGEBLOCKRATIO
     (
      flag CHAR(2) NOT NULL,
      tons FLOAT,
      seen DATE)
UNIQUE PRIMARY INDEX (flag);

COMMENT ON TABLE traffic.flag_fact AS 'flag fact, loaded every night';

COMMENT ON COLUMN traffic.flag_fact.flag AS 'flag';
COMMENT ON COLUMN traffic.flag_fact.tons AS 'tons';
COMMENT ON COLUMN traffic.flag_fact.seen AS 'seen';
CREATE MULTISET TABLE traffic.berth ,NO FALLBACK ,
     NO BEFORE JOURNAL,
     NO AFTER JOURNAL,
     CHECKSUM = DEFAULT,
     DEFAULT MERGEBLOCKRATIO
     (
      berth_id INTEGER NOT NULL,
      berth_code CHAR(6),
      limit_t DECIMAL(9,1))
UNIQUE PRIMARY INDEX (berth_id);

COMMENT ON TABLE traffic.berth AS 'berth, loaded every night';

COMMENT ON COLUMN traffic.berth.berth_id AS 'berth id';
COMMENT ON COLUMN traffic.berth.berth_code AS 'berth code';
COMMENT ON COLUMN traffic.berth.limit_t AS 'limit t';
CREATE MULTISET TABLE traffic.berth_use ,NO FALLBACK ,
     NO BEFORE JOURNAL,
     NO AFTER JOURNAL,
     CHECKSUM = DEFAULT,
     DEFAULT MERGEBLOCKRATIO
     (
      berth_id INTEGER NOT NULL,
      from_ts TIMESTAMP(6),
      to_ts TIMESTAMP(6),
      valid PERIOD(DATE) NOT NULL,
      used_for INTERVAL DAY(4) TO SECOND(2))
PRIMARY INDEX (berth_id);

COMMENT ON TABLE traffic.berth_use AS 'berth use, loaded every night';

COMMENT ON COLUMN traffic.berth_use.berth_id AS 'berth id';
COMMENT ON COLUMN traffic.berth_use.from_ts AS 'from ts';
COMMENT ON COLUMN traffic.berth_use.to_ts AS 'to ts';
COMMENT ON COLUMN traffic.berth_use.valid AS 'valid';
COMMENT ON COLUMN traffic.berth_use.used_for AS 'used for';
CREATE MULTISET TABLE traffic.work_month ,NO FALLBACK ,
     NO BEFORE JOURNAL,
     NO AFTER JOURNAL,
     CHECKSUM = DEFAULT,
     DEFAULT MERGEBLOCKRATIO
     (
      mon DATE,
      calls INTEGER)
NO PRIMARY INDEX;

COMMENT ON TABLE traffic.work_month AS 'work month, loaded every night';

COMMENT ON COLUMN traffic.work_month.mon AS 'mon';
COMMENT ON COLUMN traffic.work_month.calls AS 'calls';
CREATE MULTISET TABLE traffic.note ,NO FALLBACK ,
     NO BEFORE JOURNAL,
     NO AFTER JOURNAL,
     CHECKSUM = DEFAULT,
     DEFAULT MERGEBLOCKRATIO
     (
      note_id INTEGER NOT NULL,
      txt VARCHAR(200),
      doc JSON(16776192),
      x XML)
UNIQUE PRIMARY INDEX (note_id);

COMMENT ON TABLE traffic.note AS 'note, loaded every night';

COMMENT ON COLUMN traffic.note.note_id AS 'note id';
COMMENT ON COLUMN traffic.note.txt AS 'txt';
COMMENT ON COLUMN traffic.note.doc AS 'doc';
COMMENT ON COLUMN traffic.note.x AS 'x';
CREATE MULTISET TABLE traffic.load_log ,NO FALLBACK ,
     NO BEFORE JOURNAL,
     NO AFTER JOURNAL,
     CHECKSUM = DEFAULT,
     DEFAULT MERGEBLOCKRATIO
     (
      at_ts TIMESTAMP(0),
      day_id DATE,
      code INTEGER)
PRIMARY INDEX (day_id);

COMMENT ON TABLE traffic.load_log AS 'load log, loaded every night';

COMMENT ON COLUMN traffic.load_log.at_ts AS 'at ts';
COMMENT ON COLUMN traffic.load_log.day_id AS 'day id';
COMMENT ON COLUMN traffic.load_log.code AS 'code';
CREATE MULTISET TABLE traffic.big_call ,NO FALLBACK ,
     NO BEFORE JOURNAL,
     NO AFTER JOURNAL,
     CHECKSUM = DEFAULT,
     DEFAULT MERGEBLOCKRATIO
     (
      call_id BIGINT,
      seen TIMESTAMP(6))
PRIMARY INDEX (call_id);

COMMENT ON TABLE traffic.big_call AS 'big call, loaded every night';

COMMENT ON COLUMN traffic.big_call.call_id AS 'call id';
COMMENT ON COLUMN traffic.big_call.seen AS 'seen';
CREATE VOLATILE TABLE vt_flags, NO LOG AS (SELECT flag, COUNT(*) AS n FROM traffic.vessel GROUP BY flag) WITH DATA PRIMARY INDEX (flag) ON COMMIT PRESERVE ROWS;
CREATE TABLE traffic.vessel_copy AS traffic.vessel WITH NO DATA;
CREATE GLOBAL TEMPORARY TABLE traffic.gt_calls (call_id BIGINT, n INTEGER) ON COMMIT DELETE ROWS;
CREATE JOIN INDEX traffic.ji_calls, NO FALLBACK AS SELECT c.port_id, v.flag, COUNT(*) AS n FROM traffic.port_call c INNER JOIN traffic.vessel v ON v.vessel_id = c.vessel_id GROUP BY 1, 2 PRIMARY INDEX (port_id);
CREATE HASH INDEX traffic.hi_vessel (call_sign) ON traffic.vessel BY (call_sign) ORDER BY HASH (call_sign);
CREATE INDEX ix_arrived (arrived) ON traffic.port_call;
CREATE UNIQUE INDEX (berth_code) ON traffic.berth;
CREATE ROLE traffic_reader;
GRANT SELECT ON traffic TO traffic_reader;
GRANT EXECUTE PROCEDURE, INSERT, SELECT ON traffic.port_call TO traffic_load WITH GRANT OPTION;
ALTER TABLE traffic.port_call ADD pilot_used BYTEINT DEFAULT 0 COMPRESS (0, 1), DROP agent;
ALTER TABLE traffic.day_fact MODIFY PRIMARY INDEX DROP RANGE BETWEEN DATE '2015-01-01' AND DATE '2015-12-31' WITH DELETE;
CREATE ERROR TABLE traffic.et_flag FOR traffic.flag_fact;
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (1, NULL, 'Area 1');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (2, NULL, 'Area 2');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (3, NULL, 'Area 3');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (4, 1, 'Area 4');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (5, 1, 'Area 5');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (6, 1, 'Area 6');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (7, 1, 'Area 7');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (8, 2, 'Area 8');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (9, 2, 'Area 9');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (10, 2, 'Area 10');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (11, 2, 'Area 11');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (12, 3, 'Area 12');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (13, 3, 'Area 13');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (14, 3, 'Area 14');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (15, 3, 'Area 15');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (16, 4, 'Area 16');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (17, 4, 'Area 17');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (18, 4, 'Area 18');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (19, 4, 'Area 19');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (20, 5, 'Area 20');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (21, 5, 'Area 21');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (22, 5, 'Area 22');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (23, 5, 'Area 23');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (24, 6, 'Area 24');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (25, 6, 'Area 25');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (26, 6, 'Area 26');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (27, 6, 'Area 27');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (28, 7, 'Area 28');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (29, 7, 'Area 29');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (30, 7, 'Area 30');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (31, 7, 'Area 31');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (32, 8, 'Area 32');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (33, 8, 'Area 33');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (34, 8, 'Area 34');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (35, 8, 'Area 35');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (36, 9, 'Area 36');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (37, 9, 'Area 37');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (38, 9, 'Area 38');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (39, 9, 'Area 39');
INSERT INTO traffic.area (area_id, parent_id, area_name) VALUES (40, 10, 'Area 40');
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 1', 'KB0001', 'KB', 1971, 41.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 2', 'KB0002', 'NO', 1972, 42.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 3', 'KB0003', 'PT', 1973, 43.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 4', 'KB0004', 'NO', 1974, 44.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 5', 'KB0005', 'PT', 1975, 45.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 6', 'KB0006', 'PT', 1976, 46.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 7', 'KB0007', 'NO', 1977, 47.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 8', 'KB0008', 'PT', 1978, 48.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 9', 'KB0009', 'PT', 1979, 49.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 10', 'KB0010', 'PT', 1980, 50.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 11', 'KB0011', 'KB', 1981, 51.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 12', 'KB0012', 'NO', 1982, 52.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 13', 'KB0013', 'NO', 1983, 53.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 14', 'KB0014', 'NO', 1984, 54.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 15', 'KB0015', 'PT', 1985, 55.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 16', 'KB0016', 'KB', 1986, 56.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 17', 'KB0017', 'KB', 1987, 57.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 18', 'KB0018', 'NO', 1988, 58.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 19', 'KB0019', 'KB', 1989, 59.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 20', 'KB0020', 'PT', 1990, 60.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 21', 'KB0021', 'NO', 1991, 61.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 22', 'KB0022', 'PT', 1992, 62.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 23', 'KB0023', 'PT', 1993, 63.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 24', 'KB0024', 'NO', 1994, 64.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 25', 'KB0025', 'KB', 1995, 65.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 26', 'KB0026', 'PT', 1996, 66.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 27', 'KB0027', 'PT', 1997, 67.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 28', 'KB0028', 'NO', 1998, 68.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 29', 'KB0029', 'NO', 1999, 69.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 30', 'KB0030', 'PT', 2000, 70.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 31', 'KB0031', 'NO', 2001, 71.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 32', 'KB0032', 'PT', 2002, 72.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 33', 'KB0033', 'NO', 2003, 73.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 34', 'KB0034', 'NO', 2004, 74.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 35', 'KB0035', 'PT', 2005, 75.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 36', 'KB0036', 'NO', 2006, 76.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 37', 'KB0037', 'NO', 2007, 77.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 38', 'KB0038', 'NO', 2008, 78.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 39', 'KB0039', 'NO', 2009, 79.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 40', 'KB0040', 'PT', 2010, 80.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 41', 'KB0041', 'NO', 2011, 81.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 42', 'KB0042', 'KB', 2012, 82.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 43', 'KB0043', 'KB', 2013, 83.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 44', 'KB0044', 'NO', 2014, 84.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 45', 'KB0045', 'PT', 2015, 85.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 46', 'KB0046', 'PT', 2016, 86.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 47', 'KB0047', 'NO', 2017, 87.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 48', 'KB0048', 'KB', 2018, 88.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 49', 'KB0049', 'NO', 2019, 89.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 50', 'KB0050', 'KB', 1970, 90.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 51', 'KB0051', 'NO', 1971, 91.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 52', 'KB0052', 'KB', 1972, 92.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 53', 'KB0053', 'KB', 1973, 93.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 54', 'KB0054', 'KB', 1974, 94.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 55', 'KB0055', 'KB', 1975, 95.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 56', 'KB0056', 'NO', 1976, 96.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 57', 'KB0057', 'KB', 1977, 97.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 58', 'KB0058', 'PT', 1978, 98.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 59', 'KB0059', 'PT', 1979, 99.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 60', 'KB0060', 'NO', 1980, 100.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 61', 'KB0061', 'KB', 1981, 101.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 62', 'KB0062', 'KB', 1982, 102.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 63', 'KB0063', 'NO', 1983, 103.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 64', 'KB0064', 'NO', 1984, 104.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 65', 'KB0065', 'NO', 1985, 105.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 66', 'KB0066', 'NO', 1986, 106.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 67', 'KB0067', 'PT', 1987, 107.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 68', 'KB0068', 'NO', 1988, 108.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 69', 'KB0069', 'PT', 1989, 109.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 70', 'KB0070', 'NO', 1990, 110.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 71', 'KB0071', 'KB', 1991, 111.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 72', 'KB0072', 'KB', 1992, 112.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 73', 'KB0073', 'NO', 1993, 113.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 74', 'KB0074', 'PT', 1994, 114.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 75', 'KB0075', 'NO', 1995, 115.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 76', 'KB0076', 'KB', 1996, 116.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 77', 'KB0077', 'NO', 1997, 117.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 78', 'KB0078', 'PT', 1998, 118.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 79', 'KB0079', 'PT', 1999, 119.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 80', 'KB0080', 'PT', 2000, 120.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 81', 'KB0081', 'PT', 2001, 121.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 82', 'KB0082', 'NO', 2002, 122.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 83', 'KB0083', 'KB', 2003, 123.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 84', 'KB0084', 'KB', 2004, 124.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 85', 'KB0085', 'NO', 2005, 125.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 86', 'KB0086', 'PT', 2006, 126.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 87', 'KB0087', 'KB', 2007, 127.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 88', 'KB0088', 'PT', 2008, 128.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 89', 'KB0089', 'KB', 2009, 129.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 90', 'KB0090', 'KB', 2010, 130.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 91', 'KB0091', 'PT', 2011, 131.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 92', 'KB0092', 'NO', 2012, 132.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 93', 'KB0093', 'NO', 2013, 133.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 94', 'KB0094', 'KB', 2014, 134.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 95', 'KB0095', 'NO', 2015, 135.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 96', 'KB0096', 'KB', 2016, 136.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 97', 'KB0097', 'PT', 2017, 137.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 98', 'KB0098', 'KB', 2018, 138.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 99', 'KB0099', 'KB', 2019, 139.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 100', 'KB0100', 'KB', 1970, 140.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 101', 'KB0101', 'KB', 1971, 141.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 102', 'KB0102', 'KB', 1972, 142.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 103', 'KB0103', 'NO', 1973, 143.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 104', 'KB0104', 'PT', 1974, 144.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 105', 'KB0105', 'KB', 1975, 145.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 106', 'KB0106', 'PT', 1976, 146.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 107', 'KB0107', 'NO', 1977, 147.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 108', 'KB0108', 'PT', 1978, 148.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 109', 'KB0109', 'NO', 1979, 149.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 110', 'KB0110', 'KB', 1980, 150.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 111', 'KB0111', 'NO', 1981, 151.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 112', 'KB0112', 'PT', 1982, 152.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 113', 'KB0113', 'PT', 1983, 153.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 114', 'KB0114', 'NO', 1984, 154.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 115', 'KB0115', 'NO', 1985, 155.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 116', 'KB0116', 'PT', 1986, 156.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 117', 'KB0117', 'KB', 1987, 157.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 118', 'KB0118', 'NO', 1988, 158.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 119', 'KB0119', 'PT', 1989, 159.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 120', 'KB0120', 'NO', 1990, 160.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 121', 'KB0121', 'NO', 1991, 161.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 122', 'KB0122', 'NO', 1992, 162.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 123', 'KB0123', 'PT', 1993, 163.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 124', 'KB0124', 'KB', 1994, 164.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 125', 'KB0125', 'KB', 1995, 165.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 126', 'KB0126', 'NO', 1996, 166.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 127', 'KB0127', 'KB', 1997, 167.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 128', 'KB0128', 'KB', 1998, 168.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 129', 'KB0129', 'PT', 1999, 169.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 130', 'KB0130', 'NO', 2000, 170.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 131', 'KB0131', 'KB', 2001, 171.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 132', 'KB0132', 'NO', 2002, 172.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 133', 'KB0133', 'NO', 2003, 173.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 134', 'KB0134', 'KB', 2004, 174.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 135', 'KB0135', 'PT', 2005, 175.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 136', 'KB0136', 'PT', 2006, 176.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 137', 'KB0137', 'KB', 2007, 177.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 138', 'KB0138', 'KB', 2008, 178.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 139', 'KB0139', 'KB', 2009, 179.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 140', 'KB0140', 'NO', 2010, 180.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 141', 'KB0141', 'NO', 2011, 181.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 142', 'KB0142', 'NO', 2012, 182.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 143', 'KB0143', 'NO', 2013, 183.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 144', 'KB0144', 'PT', 2014, 184.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 145', 'KB0145', 'NO', 2015, 185.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 146', 'KB0146', 'NO', 2016, 186.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 147', 'KB0147', 'KB', 2017, 187.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 148', 'KB0148', 'PT', 2018, 188.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 149', 'KB0149', 'PT', 2019, 189.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 150', 'KB0150', 'PT', 1970, 190.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 151', 'KB0151', 'PT', 1971, 191.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 152', 'KB0152', 'KB', 1972, 192.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 153', 'KB0153', 'KB', 1973, 193.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 154', 'KB0154', 'NO', 1974, 194.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 155', 'KB0155', 'KB', 1975, 195.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 156', 'KB0156', 'KB', 1976, 196.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 157', 'KB0157', 'NO', 1977, 197.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 158', 'KB0158', 'PT', 1978, 198.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 159', 'KB0159', 'NO', 1979, 199.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 160', 'KB0160', 'PT', 1980, 40.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 161', 'KB0161', 'KB', 1981, 41.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 162', 'KB0162', 'PT', 1982, 42.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 163', 'KB0163', 'KB', 1983, 43.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 164', 'KB0164', 'PT', 1984, 44.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 165', 'KB0165', 'PT', 1985, 45.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 166', 'KB0166', 'KB', 1986, 46.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 167', 'KB0167', 'NO', 1987, 47.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 168', 'KB0168', 'NO', 1988, 48.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 169', 'KB0169', 'PT', 1989, 49.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 170', 'KB0170', 'NO', 1990, 50.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 171', 'KB0171', 'PT', 1991, 51.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 172', 'KB0172', 'PT', 1992, 52.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 173', 'KB0173', 'PT', 1993, 53.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Merle 174', 'KB0174', 'NO', 1994, 54.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Kora 175', 'KB0175', 'NO', 1995, 55.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 176', 'KB0176', 'NO', 1996, 56.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 177', 'KB0177', 'PT', 1997, 57.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 178', 'KB0178', 'PT', 1998, 58.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Vell 179', 'KB0179', 'NO', 1999, 59.5);
INS INTO traffic.vessel (vessel_name, call_sign, flag, built, length_m) VALUES ('Tide 180', 'KB0180', 'PT', 2000, 60.5);
.IMPORT VARTEXT '|' FILE = calls.txt
.REPEAT *
USING (id VARCHAR(10), port VARCHAR(6), ship VARCHAR(10), ts VARCHAR(19)) INSERT INTO traffic.port_call (call_id, port_id, vessel_id, arrived) VALUES (:id, :port, :ship, :ts (TIMESTAMP(0), FORMAT 'YYYY-MM-DDBHH:MI:SS'));
COLLECT STATISTICS ON traffic.vessel COLUMN flag;
.EXPORT REPORT FILE = flags.txt
SELECT flag, COUNT(*) FROM traffic.vessel GROUP BY flag WITH COUNT(*) (TITLE 'All');
.EXPORT RESET
.LOGOFF
