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

-- dbo.procedure.usptidy: rewrite

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

-- dbo.procedure.usptake: rewrite

-- dbo.procedure.uspflag: drafted
CREATE PROCEDURE dbo.uspflag(IN p_given varchar(10), INOUT p_flag char(1), INOUT p_first char(1), INOUT p_whole decimal(5,0))
NO SQL
hs_body: BEGIN
  SET p_flag = LEFT(p_given, 1);
END;

-- dbo.constraint.line_pk: as-is
ALTER TABLE dbo.line ADD CONSTRAINT line_pk PRIMARY KEY (id);
