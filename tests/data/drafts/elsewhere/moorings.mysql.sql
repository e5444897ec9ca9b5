-- sequence.arrival_seq: confirm
CREATE TABLE arrival_seq (
  one tinyint NOT NULL DEFAULT 1 PRIMARY KEY CHECK (one = 1),
  given bigint NOT NULL
);
INSERT INTO arrival_seq (given) VALUES (0);
CREATE FUNCTION next_arrival_seq()
RETURNS bigint
MODIFIES SQL DATA
BEGIN
  DECLARE v_given bigint;
  UPDATE arrival_seq SET given = given + 1;
  SELECT given INTO v_given FROM arrival_seq;
  RETURN v_given;
END;

-- sequence.mooring_seq: confirm
CREATE TABLE mooring_seq (
  one tinyint NOT NULL DEFAULT 1 PRIMARY KEY CHECK (one = 1),
  given bigint NOT NULL
);
INSERT INTO mooring_seq (given) VALUES (49);
CREATE FUNCTION next_mooring_seq()
RETURNS bigint
MODIFIES SQL DATA
BEGIN
  DECLARE v_given bigint;
  UPDATE mooring_seq SET given = given + 1;
  SELECT given INTO v_given FROM mooring_seq;
  RETURN v_given;
END;

-- table.moorings: drafted
CREATE TABLE moorings (
  id bigint NOT NULL,
  name varchar(40) NOT NULL,
  depth decimal(6,2),
  visits int DEFAULT 0 NOT NULL
) COLLATE = utf8mb4_bin;

-- table.arrivals: drafted
CREATE TABLE arrivals (
  id bigint NOT NULL,
  mooring_id bigint NOT NULL,
  ship varchar(40) NOT NULL,
  tons decimal(8,2) NOT NULL
) COLLATE = utf8mb4_bin;

-- function.arrivals_of: confirm
CREATE PROCEDURE arrivals_of(IN p_mooring decimal(65,30))
READS SQL DATA
hs_body: BEGIN
  SELECT COUNT(*) AS n FROM arrivals WHERE mooring_id = p_mooring;
  LEAVE hs_body;
END;

-- function.deepened: confirm
CREATE FUNCTION deepened(p_id decimal(65,30), p_by decimal(65,30))
RETURNS decimal(65,30)
READS SQL DATA
BEGIN
  DECLARE before_it_id bigint;
  DECLARE before_it_name varchar(40);
  DECLARE before_it_depth decimal(6,2);
  DECLARE before_it_visits int;
  DECLARE after_it_id bigint;
  DECLARE after_it_name varchar(40);
  DECLARE after_it_depth decimal(6,2);
  DECLARE after_it_visits int;
  DECLARE EXIT HANDLER FOR NOT FOUND
  BEGIN
    RETURN -1;
  END;
  DECLARE EXIT HANDLER FOR SQLEXCEPTION
  BEGIN
    RESIGNAL;
  END;
  SELECT id, name, depth, visits INTO before_it_id, before_it_name, before_it_depth, before_it_visits FROM moorings WHERE id = p_id;
  SET after_it_id = before_it_id;
  SET after_it_name = before_it_name;
  SET after_it_depth = before_it_depth;
  SET after_it_visits = before_it_visits;
  SET after_it_depth = after_it_depth + p_by;
  RETURN after_it_depth * 100 + before_it_depth;
END;

-- function.tons_at: confirm
CREATE FUNCTION tons_at(p_mooring decimal(65,30))
RETURNS decimal(65,30)
READS SQL DATA
BEGIN
  DECLARE v_tons decimal(65,30);
  SELECT COALESCE(SUM(tons), 0) INTO v_tons FROM arrivals WHERE mooring_id = p_mooring AND tons < (90 + 9);
  RETURN v_tons;
END;

-- function.first_over: confirm
CREATE FUNCTION first_over(p_limit decimal(65,30))
RETURNS decimal(65,30)
NO SQL
BEGIN
  DECLARE v_sum int DEFAULT 0;
  DECLARE j bigint;
  DECLARE i bigint;
  DECLARE hs_end2 bigint;
  DECLARE hs_end1 bigint;
  SET i = 1;
  SET hs_end1 = 10;
  hs_loop1: WHILE i <= hs_end1 DO
    SET j = 1;
    SET hs_end2 = 10;
    hs_loop2: WHILE j <= hs_end2 DO
      SET v_sum = v_sum + j;
      IF v_sum > p_limit THEN
        LEAVE hs_loop1;
      END IF;
      IF j = 3 THEN
        LEAVE hs_loop2;
      END IF;
      SET j = j + 1;
    END WHILE hs_loop2;
    SET i = i + 1;
  END WHILE hs_loop1;
  RETURN v_sum;
END;

-- procedure.add_mooring: rewrite

-- procedure.add_arrival: confirm
CREATE PROCEDURE add_arrival(IN p_mooring decimal(65,30), IN p_ship longtext, IN p_tons decimal(65,30), OUT p_id decimal(65,30))
MODIFIES SQL DATA
hs_body: BEGIN
  SET p_id = next_arrival_seq();
  INSERT INTO arrivals (id, mooring_id, ship, tons) VALUES (p_id, p_mooring, p_ship, p_tons);
END;

-- procedure.list_arrivals: confirm
CREATE PROCEDURE list_arrivals(IN p_mooring decimal(65,30))
READS SQL DATA
hs_body: BEGIN
  SELECT ship, tons FROM arrivals WHERE mooring_id = p_mooring ORDER BY id;
END;

-- procedure.pass_on: confirm
CREATE PROCEDURE pass_on()
MODIFIES SQL DATA
hs_body: BEGIN
  CALL list_arrivals(1);
END;

-- procedure.count_heavy: confirm
CREATE PROCEDURE count_heavy(IN p_tons decimal(65,30))
MODIFIES SQL DATA
hs_body: BEGIN
  DECLARE hs_c_heavy_c_tons decimal(65,30);
  DECLARE hs_c_heavy_c_ship longtext;
  DECLARE hs_c_heavy_found bigint;
  DECLARE r_heavy_mooring_id bigint;
  DECLARE r_heavy_tons decimal(8,2);
  DECLARE hs_r_all_mooring_id bigint;
  DECLARE hs_r_all_tons decimal(8,2);
  DECLARE hs_rows2_found bigint;
  DECLARE c_heavy CURSOR FOR
    SELECT mooring_id, tons FROM arrivals WHERE tons > hs_c_heavy_c_tons AND ship <> hs_c_heavy_c_ship ORDER BY id;
  DECLARE hs_rows2 CURSOR FOR
    SELECT mooring_id, tons FROM arrivals WHERE tons > hs_c_heavy_c_tons AND ship <> hs_c_heavy_c_ship ORDER BY id;
  SET hs_c_heavy_c_tons = p_tons;
  SET hs_c_heavy_c_ship = 'x';
  OPEN c_heavy;
  hs_loop1: WHILE 1 = 1 DO
    BEGIN
      DECLARE CONTINUE HANDLER FOR NOT FOUND
      BEGIN
        SET hs_c_heavy_found = 0;
      END;
      SET hs_c_heavy_found = 1;
      FETCH c_heavy INTO r_heavy_mooring_id, r_heavy_tons;
    END;
    IF hs_c_heavy_found = 0 THEN
      LEAVE hs_loop1;
    END IF;
    UPDATE moorings SET visits = visits + 1 WHERE id = r_heavy_mooring_id;
  END WHILE hs_loop1;
  CLOSE c_heavy;
  SET hs_c_heavy_c_tons = 0;
  SET hs_c_heavy_c_ship = 'Gull';
  OPEN hs_rows2;
  hs_loop2: WHILE 1 = 1 DO
    BEGIN
      DECLARE CONTINUE HANDLER FOR NOT FOUND
      BEGIN
        SET hs_rows2_found = 0;
      END;
      SET hs_rows2_found = 1;
      FETCH hs_rows2 INTO hs_r_all_mooring_id, hs_r_all_tons;
    END;
    IF hs_rows2_found = 0 THEN
      LEAVE hs_loop2;
    END IF;
    UPDATE moorings SET visits = visits + 100 WHERE id = hs_r_all_mooring_id;
  END WHILE hs_loop2;
  CLOSE hs_rows2;
END;

-- procedure.note_record: confirm
CREATE PROCEDURE note_record()
MODIFIES SQL DATA
hs_body: BEGIN
  DECLARE v_note_id bigint;
  DECLARE v_note_name varchar(40);
  SET v_note_id = 7;
  SET v_note_name = 'Buoy';
  INSERT INTO moorings (id, name) VALUES (v_note_id, v_note_name);
END;

-- procedure.rename_mooring: confirm
CREATE PROCEDURE rename_mooring(IN p_id decimal(65,30), IN p_name longtext)
MODIFIES SQL DATA
hs_body: BEGIN
  UPDATE moorings SET name = p_name WHERE id = p_id;
END;

-- procedure.take_over: confirm
CREATE PROCEDURE take_over(IN p_id decimal(65,30), IN p_name longtext)
MODIFIES SQL DATA
hs_body: BEGIN
  UPDATE moorings m JOIN (SELECT p_id AS id, p_name AS name FROM dual) s ON (m.id = s.id) SET m.name = s.name, m.visits = m.visits + 1 WHERE m.depth IS NOT NULL;
  INSERT INTO moorings (id, name, depth) SELECT s.id, s.name, 3 FROM (SELECT p_id AS id, p_name AS name FROM dual) s WHERE NOT EXISTS (SELECT 1 FROM moorings m WHERE (m.id = s.id));
END;

-- procedure.lighten: confirm
CREATE PROCEDURE lighten(IN p_mooring decimal(65,30), IN p_by decimal(65,30))
MODIFIES SQL DATA
hs_body: BEGIN
  DECLARE hs_c_m decimal(65,30);
  DECLARE hs_c_least decimal(65,30);
  DECLARE hs_r_id bigint;
  DECLARE hs_r_tons decimal(8,2);
  DECLARE hs_rows1_found bigint;
  DECLARE hs_rows1 CURSOR FOR
    SELECT id, tons FROM arrivals WHERE mooring_id = hs_c_m AND tons > hs_c_least FOR UPDATE;
  SET hs_c_m = p_mooring;
  SET hs_c_least = 30;
  OPEN hs_rows1;
  hs_loop1: WHILE 1 = 1 DO
    BEGIN
      DECLARE CONTINUE HANDLER FOR NOT FOUND
      BEGIN
        SET hs_rows1_found = 0;
      END;
      SET hs_rows1_found = 1;
      FETCH hs_rows1 INTO hs_r_id, hs_r_tons;
    END;
    IF hs_rows1_found = 0 THEN
      LEAVE hs_loop1;
    END IF;
    IF hs_r_tons > 90 THEN
      DELETE FROM arrivals WHERE id = hs_r_id;
    ELSE
      UPDATE arrivals a SET a.tons = hs_r_tons - p_by WHERE id = hs_r_id;
    END IF;
  END WHILE hs_loop1;
  CLOSE hs_rows1;
END;

-- procedure.rename_ships: confirm
CREATE PROCEDURE rename_ships(IN p_mark longtext)
MODIFIES SQL DATA
hs_body: BEGIN
  DECLARE hs_c_found bigint;
  DECLARE v_id bigint;
  DECLARE v_ship varchar(40);
  DECLARE c CURSOR FOR
    SELECT id, ship FROM arrivals FOR UPDATE;
  OPEN c;
  hs_loop1: WHILE 1 = 1 DO
    BEGIN
      DECLARE CONTINUE HANDLER FOR NOT FOUND
      BEGIN
        SET hs_c_found = 0;
      END;
      SET hs_c_found = 1;
      FETCH c INTO v_id, v_ship;
    END;
    IF hs_c_found = 0 THEN
      LEAVE hs_loop1;
    END IF;
    UPDATE arrivals SET ship = IF(CONCAT_WS('', UPPER(v_ship), p_mark) LIKE '', NULL, CONCAT_WS('', UPPER(v_ship), p_mark)) WHERE id = v_id;
  END WHILE hs_loop1;
  CLOSE c;
END;

-- constraint.moorings_pk: as-is
ALTER TABLE moorings ADD CONSTRAINT moorings_pk PRIMARY KEY (id);

-- constraint.arrivals_pk: as-is
ALTER TABLE arrivals ADD CONSTRAINT arrivals_pk PRIMARY KEY (id);

-- trigger.moorings_bi: confirm
CREATE TRIGGER moorings_bi BEFORE INSERT ON moorings FOR EACH ROW
hs_body: BEGIN
  IF NEW.id IS NULL THEN
    SET NEW.id = next_mooring_seq();
  END IF;
END;
