-- dbo.table.line: drafted
CREATE TABLE dbo.line (
  id int NOT NULL,
  metres int NOT NULL,
  worn tinyint(1) NOT NULL,
  kind varchar(10)
);

-- dbo.function.fnworn: confirm
CREATE FUNCTION dbo.fnworn(p_also tinyint(1))
RETURNS int
READS SQL DATA
BEGIN
  DECLARE v_n int;
  SELECT SUM(CAST(Worn AS SIGNED)) INTO v_n FROM dbo.line WHERE Worn = p_also;
  IF p_also + v_n > 5 THEN
    RETURN -1;
  END IF;
  RETURN TRUNCATE(v_n + p_also - 1, 0);
END;

-- dbo.function.fnthird: drafted
CREATE FUNCTION dbo.fnthird(p_n int)
RETURNS decimal(10,4)
NO SQL
BEGIN
  RETURN (FLOOR(p_n) DIV 3);
END;

-- dbo.function.fntag: confirm
CREATE FUNCTION dbo.fntag(p_code varchar(3), p_rate decimal(5,2))
RETURNS varchar(30)
NO SQL
BEGIN
  RETURN CONCAT(p_code, CAST(p_rate AS CHAR(20)));
END;

-- dbo.function.fnofkind: confirm
-- Nothing to create: each query that reads this function holds its query.

-- dbo.procedure.uspcount: rewrite

-- dbo.procedure.uspkinds: rewrite

-- dbo.procedure.usptidy: confirm
CREATE PROCEDURE dbo.usptidy()
MODIFIES SQL DATA
hs_body: BEGIN
  UPDATE dbo.line AS hs_self JOIN (SELECT ID, Metres, line.id AS hs_key1 FROM dbo.line LIMIT 18446744073709551615) AS l ON hs_self.id = l.hs_key1 SET hs_self.metres = l.Metres + 1 WHERE l.ID = 1;
  DELETE hs_self FROM dbo.line AS hs_self JOIN (SELECT ID, ROW_NUMBER() OVER (PARTITION BY Kind, Metres ORDER BY ID) AS n, line.id AS hs_key1 FROM dbo.line) AS l ON hs_self.id = l.hs_key1 WHERE l.n > 1;
END;

-- dbo.procedure.uspfirst: confirm
CREATE PROCEDURE dbo.uspfirst(INOUT p_id int, INOUT p_kind varchar(10))
READS SQL DATA
hs_body: BEGIN
  DECLARE hs_fetch_status bigint;
  DECLARE c CURSOR FOR
    SELECT ID, Kind FROM dbo.line WHERE Metres > 1 ORDER BY ID;
  OPEN c;
  BEGIN
    DECLARE CONTINUE HANDLER FOR NOT FOUND
    BEGIN
      SET hs_fetch_status = -1;
    END;
    SET hs_fetch_status = 0;
    FETCH c INTO p_id, p_kind;
  END;
  hs_loop1: WHILE hs_fetch_status = 0 AND p_id < 1 DO
    SELECT Kind INTO p_kind FROM dbo.line WHERE ID = p_id;
    BEGIN
      DECLARE CONTINUE HANDLER FOR NOT FOUND
      BEGIN
        SET hs_fetch_status = -1;
      END;
      SET hs_fetch_status = 0;
      FETCH c INTO p_id, p_kind;
    END;
  END WHILE hs_loop1;
  CLOSE c;
END;

-- dbo.procedure.usplast: confirm
CREATE PROCEDURE dbo.usplast(IN p_least int, INOUT p_id int, INOUT p_kind varchar(10), INOUT p_n int)
READS SQL DATA
hs_body: BEGIN
  DECLARE hs_fetch_status bigint;
  DECLARE c CURSOR FOR
    SELECT ID, Kind FROM dbo.line WHERE Metres > p_least ORDER BY ID;
  SET p_kind = 'none';
  SET p_n = 0;
  OPEN c;
  BEGIN
    DECLARE CONTINUE HANDLER FOR NOT FOUND
    BEGIN
      SET hs_fetch_status = -1;
    END;
    SET hs_fetch_status = 0;
    FETCH c INTO p_id, p_kind;
  END;
  hs_loop1: WHILE hs_fetch_status = 0 DO
    SET p_n = p_n + 1;
    BEGIN
      DECLARE CONTINUE HANDLER FOR NOT FOUND
      BEGIN
        SET hs_fetch_status = -1;
      END;
      SET hs_fetch_status = 0;
      FETCH c INTO p_id, p_kind;
    END;
  END WHILE hs_loop1;
  CLOSE c;
END;

-- dbo.procedure.usptake: confirm
CREATE PROCEDURE dbo.usptake(IN p_kind varchar(10), INOUT p_left int, INOUT p_err int, OUT p_status bigint)
MODIFIES SQL DATA
hs_body: BEGIN
  DECLARE v_n int;
  DECLARE v_code int;
  DECLARE hs_rows1_found bigint;
  DECLARE hs_rows1 CURSOR FOR
    SELECT Metres FROM dbo.line WHERE Kind = p_kind;
  SET p_status = 0;
  SET v_code = -7;
  SET p_err = 0;
  START TRANSACTION;
  UPDATE dbo.line SET Metres = Metres - 35 WHERE Kind = p_kind;
  SET v_n = ROW_COUNT();
  IF v_n <> 1 THEN
    ROLLBACK;
    SET p_err = v_code;
    SET p_status = v_code;
    LEAVE hs_body;
  END IF;
  OPEN hs_rows1;
  hs_loop1: WHILE 1 = 1 DO
    BEGIN
      DECLARE CONTINUE HANDLER FOR NOT FOUND
      BEGIN
        SET hs_rows1_found = 0;
      END;
      SET hs_rows1_found = 1;
      FETCH hs_rows1 INTO p_left;
    END;
    IF hs_rows1_found = 0 THEN
      LEAVE hs_loop1;
    END IF;
  END WHILE hs_loop1;
  CLOSE hs_rows1;
  COMMIT;
  SET p_status = 0;
  LEAVE hs_body;
END;

-- dbo.procedure.uspflag: drafted
CREATE PROCEDURE dbo.uspflag(IN p_given varchar(10), INOUT p_flag char(1), INOUT p_first char(1), INOUT p_whole decimal(5,0))
NO SQL
hs_body: BEGIN
  SET p_flag = LEFT(p_given, 1);
END;

-- dbo.constraint.line_pk: as-is
ALTER TABLE dbo.line ADD CONSTRAINT line_pk PRIMARY KEY (id);
