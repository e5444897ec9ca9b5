-- dbo.table.pontoons: as-is
CREATE TABLE dbo.pontoons (
  id int NOT NULL,
  name varchar(40) NOT NULL,
  length decimal(6,2) NOT NULL
);

-- dbo.table.repairs: drafted
CREATE TABLE dbo.repairs (
  id int NOT NULL AUTO_INCREMENT,
  pontoon_id int NOT NULL,
  cost decimal(9,2) NOT NULL,
  note varchar(200),
  PRIMARY KEY (id)
);

-- dbo.table.mishaps: drafted
CREATE TABLE dbo.mishaps (
  id int NOT NULL AUTO_INCREMENT,
  number int,
  severity int,
  place varchar(60),
  PRIMARY KEY (id)
);

-- dbo.function.repairs_of: confirm
-- Nothing to create: each query that reads this function holds its query.

-- dbo.procedure.page: confirm
CREATE PROCEDURE dbo.page(IN p_page int, IN p_size int)
READS SQL DATA
hs_body: BEGIN
  DECLARE hs_limit1 bigint;
  DECLARE hs_limit2 bigint;
  SET hs_limit1 = (p_page - 1) * p_size;
  SET hs_limit2 = p_size;
  SELECT id, name FROM dbo.pontoons ORDER BY id   LIMIT hs_limit2 OFFSET hs_limit1;
END;

-- dbo.procedure.dearest: confirm
CREATE PROCEDURE dbo.dearest(IN p_n int)
READS SQL DATA
hs_body: BEGIN
  DECLARE hs_limit1 bigint;
  SET hs_limit1 = p_n;
  SELECT   id, cost FROM dbo.repairs ORDER BY cost DESC, id LIMIT hs_limit1;
END;

-- dbo.procedure.dear_repairs: confirm
CREATE PROCEDURE dbo.dear_repairs(IN p_id int, IN p_least decimal(9,2))
READS SQL DATA
hs_body: BEGIN
  SELECT p.name, r.cost FROM (SELECT r.id, r.cost, r.pontoon_id FROM dbo.repairs r WHERE r.pontoon_id = p_id AND r.cost >= p_least) r JOIN dbo.pontoons p ON p.id = r.pontoon_id ORDER BY r.id;
END;

-- dbo.procedure.forget_one: drafted
CREATE PROCEDURE dbo.forget_one()
MODIFIES SQL DATA
hs_body: BEGIN
  DELETE  FROM dbo.repairs WHERE pontoon_id = 1 OR pontoon_id = 3 LIMIT 1;
END;

-- dbo.procedure.clear_notes: confirm
CREATE PROCEDURE dbo.clear_notes()
MODIFIES SQL DATA
hs_body: BEGIN
  UPDATE dbo.repairs SET note = NULL WHERE cost < 10;
END;

-- dbo.procedure.cost_of: confirm
CREATE PROCEDURE dbo.cost_of(IN p_id int)
READS SQL DATA
hs_body: BEGIN
  SELECT SUM(cost) AS total FROM dbo.repairs WHERE pontoon_id = p_id;
END;

-- dbo.procedure.add_pontoon: confirm
CREATE PROCEDURE dbo.add_pontoon(IN p_id int)
MODIFIES SQL DATA
hs_body: BEGIN
  DECLARE v_message varchar(200);
  DECLARE v_severity int;
  DECLARE hs_caught text;
  DECLARE hs_error int;
  BEGIN
    DECLARE EXIT HANDLER FOR SQLEXCEPTION
    BEGIN
      GET DIAGNOSTICS CONDITION 1 hs_caught = MESSAGE_TEXT, hs_error = MYSQL_ERRNO;
      SET v_message = LEFT(hs_caught, 200);
      SET v_severity = 16;
      INSERT INTO dbo.mishaps (number, severity, place) VALUES (CASE hs_error WHEN 1062 THEN 2627 WHEN 1048 THEN 515 WHEN 1364 THEN 515 WHEN 1451 THEN 547 WHEN 1452 THEN 547 WHEN 3819 THEN 547 WHEN 4025 THEN 547 WHEN 1365 THEN 8134 WHEN 1205 THEN 1222 WHEN 1213 THEN 1205 WHEN 1406 THEN 2628 WHEN 1264 THEN 8115 ELSE 50000 END, v_severity, 'add_pontoon');
    END;
    INSERT INTO dbo.pontoons (id, name, length) VALUES (p_id, 'new', 10);
  END;
END;

-- dbo.procedure.refresh_lengths: confirm
CREATE PROCEDURE dbo.refresh_lengths()
MODIFIES SQL DATA
hs_body: BEGIN
  UPDATE dbo.pontoons p JOIN (SELECT pontoon_id, COUNT(*) AS n FROM dbo.repairs GROUP BY pontoon_id) AS r ON p.id = r.pontoon_id SET p.length = p.length - 1 WHERE r.n > 1;
  INSERT INTO dbo.pontoons (id, name, length) SELECT r.pontoon_id, 'found', 5 FROM (SELECT pontoon_id, COUNT(*) AS n FROM dbo.repairs GROUP BY pontoon_id) AS r WHERE NOT EXISTS (SELECT 1 FROM dbo.pontoons p WHERE p.id = r.pontoon_id);
END;

-- dbo.view.second_pontoon: drafted
CREATE OR REPLACE VIEW dbo.second_pontoon AS SELECT x.id, x.cost FROM (SELECT r.id, r.cost, r.pontoon_id FROM dbo.repairs r WHERE r.pontoon_id = 2 AND r.cost >= NULL) x;

-- dbo.constraint.pontoons_pk: as-is
ALTER TABLE dbo.pontoons ADD CONSTRAINT pontoons_pk PRIMARY KEY (id);

-- dbo.constraint.repairs_pk: as-is
-- The table repairs is made with this key: its column counts by itself.

-- dbo.constraint.mishaps_pk: as-is
-- The table mishaps is made with this key: its column counts by itself.
