-- Routines and events of the yard system, as the deployment script of the yard keeps them.
USE `yard`;

/*!50003 SET @saved_sql_mode = @@sql_mode */;
/*!50003 SET sql_mode = 'STRICT_TRANS_TABLES,NO_ENGINE_SUBSTITUTION' */;

DELIMITER $$

DROP FUNCTION IF EXISTS `work_days`$$
CREATE DEFINER=`yard`@`%` FUNCTION `work_days`(p_from DATE, p_to DATE) RETURNS INT
    DETERMINISTIC
    READS SQL DATA
    COMMENT 'Days between two dates that are neither Sunday nor holiday'
BEGIN
  DECLARE v_days INT DEFAULT 0;
  DECLARE v_day DATE;

  IF p_from IS NULL OR p_to IS NULL THEN
    RETURN NULL;
  END IF;
  SET v_day = p_from;
  WHILE v_day <= p_to DO
    IF DAYOFWEEK(v_day) <> 1 AND NOT EXISTS (SELECT 1 FROM holiday h WHERE h.holiday_date = v_day) THEN
      SET v_days = v_days + 1;
    END IF;
    SET v_day = DATE_ADD(v_day, INTERVAL 1 DAY);
  END WHILE;
  RETURN v_days;
END$$

DROP FUNCTION IF EXISTS `berth_free`$$
CREATE FUNCTION `berth_free`(p_berth SMALLINT UNSIGNED, p_from DATETIME, p_to DATETIME)
RETURNS TINYINT(1)
READS SQL DATA
BEGIN
  RETURN NOT EXISTS (
    SELECT * FROM lay_up WHERE berth_id = p_berth AND lifted_at < p_to AND IFNULL(launched_at, '9999-12-31') > p_from);
END$$

CREATE FUNCTION IF NOT EXISTS plate_weight(p_length_mm INT, p_width_mm INT, p_thick_mm DECIMAL(5,1), p_alloy ENUM('steel','alu','bronze'))
RETURNS DECIMAL(10,3) DETERMINISTIC NO SQL SQL SECURITY INVOKER
RETURN ROUND(p_length_mm / 1000 * p_width_mm / 1000 * p_thick_mm *
             CASE p_alloy WHEN 'steel' THEN 7.85 WHEN 'alu' THEN 2.70 ELSE 8.80 END, 3)$$

CREATE FUNCTION slug(p_text VARCHAR(200) CHARSET utf8mb4) RETURNS VARCHAR(200) CHARSET utf8mb4 COLLATE utf8mb4_general_ci
NO SQL
BEGIN
  DECLARE v_out VARCHAR(200) CHARACTER SET utf8mb4 DEFAULT '';
  DECLARE i INT UNSIGNED DEFAULT 1;
  DECLARE c CHAR(1);
  each_letter: LOOP
    IF i > CHAR_LENGTH(p_text) THEN
      LEAVE each_letter;
    END IF;
    SET c = LOWER(SUBSTRING(p_text FROM i FOR 1)), i = i + 1;
    IF c NOT REGEXP '[a-z0-9]' THEN
      IF v_out = '' OR RIGHT(v_out, 1) = '-' THEN
        ITERATE each_letter;
      END IF;
      SET c = '-';
    END IF;
    SET v_out = CONCAT(v_out, c);
  END LOOP each_letter;
  RETURN TRIM(TRAILING '-' FROM v_out);
END$$

DROP PROCEDURE IF EXISTS open_order$$
CREATE PROCEDURE open_order(
    IN  p_boat_id   INT UNSIGNED,
    IN  p_kind      VARCHAR(20),
    IN  p_wished_by DATE,
    IN  p_text      TEXT,
    OUT p_order_id  INT UNSIGNED)
    MODIFIES SQL DATA
BEGIN
  DECLARE v_customer INT UNSIGNED;
  DECLARE v_blocked TINYINT;
  DECLARE EXIT HANDLER FOR SQLEXCEPTION
  BEGIN
    GET DIAGNOSTICS CONDITION 1 @p_state = RETURNED_SQLSTATE, @p_text = MESSAGE_TEXT;
    ROLLBACK;
    INSERT INTO error_log (routine, sql_state, message) VALUES ('open_order', @p_state, @p_text);
    RESIGNAL;
  END;
  DECLARE EXIT HANDLER FOR 1062 SET p_order_id = NULL;

  START TRANSACTION;
  SELECT b.customer_id, c.is_blocked INTO v_customer, v_blocked
    FROM boat b INNER JOIN customer c USING (customer_id)
   WHERE b.boat_id = p_boat_id FOR UPDATE;

  IF v_customer IS NULL THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'No such boat', MYSQL_ERRNO = 30001;
  ELSEIF v_blocked THEN
    SET @m = CONCAT('Customer ', v_customer, ' is blocked');
    SIGNAL SQLSTATE '45001' SET MESSAGE_TEXT = @m;
  END IF;

  INSERT INTO work_order SET boat_id = p_boat_id, customer_id = v_customer, kind = p_kind, wished_by = p_wished_by,
         description = NULLIF(TRIM(p_text), ''), opened_at = NOW(), status = 'open';
  SET p_order_id = LAST_INSERT_ID();

  INSERT INTO order_line (order_id, line_no, task_code, hours_planned, hourly_rate)
  SELECT p_order_id, @line := @line + 1, t.task_code, t.usual_hours, r.rate
    FROM (SELECT @line := 0) AS start, task t
    LEFT JOIN hourly_rate r ON r.trade = t.trade AND r.valid_from = (SELECT MAX(valid_from) FROM hourly_rate x WHERE x.trade = t.trade AND x.valid_from <= CURDATE())
   WHERE FIND_IN_SET(p_kind, t.kinds) > 0
   ORDER BY t.sort_order;
  COMMIT;
END$$

DROP PROCEDURE IF EXISTS close_order$$
CREATE PROCEDURE close_order(IN p_order_id INT UNSIGNED, INOUT p_total DECIMAL(12,2))
BEGIN
  DECLARE done INT DEFAULT FALSE;
  DECLARE v_line, v_parts INT;
  DECLARE v_hours DECIMAL(6,2);
  DECLARE v_rate DECIMAL(8,2);
  DECLARE no_lines CONDITION FOR SQLSTATE '02000';
  DECLARE cur_lines CURSOR FOR
    SELECT line_no, hours_done, hourly_rate FROM order_line WHERE order_id = p_order_id ORDER BY line_no;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE;

  SET p_total = COALESCE(p_total, 0);
  OPEN cur_lines;
  read_loop: LOOP
    FETCH cur_lines INTO v_line, v_hours, v_rate;
    IF done THEN
      LEAVE read_loop;
    END IF;
    IF v_hours IS NULL THEN
      ITERATE read_loop;
    END IF;
    SET p_total = p_total + v_hours * v_rate;
  END LOOP;
  CLOSE cur_lines;

  SELECT COUNT(*), SUM(u.quantity * p.price) INTO v_parts, @parts_price
    FROM part_use u JOIN part p ON p.part_id = u.part_id WHERE u.order_id = p_order_id;
  SET p_total := p_total + IFNULL(@parts_price, 0);

  UPDATE work_order w
    LEFT JOIN (SELECT order_id, MAX(worked_on) AS last_day FROM time_sheet GROUP BY order_id) t ON t.order_id = w.order_id
     SET w.status = 'closed', w.closed_at = IFNULL(t.last_day, NOW()), w.total = p_total
   WHERE w.order_id = p_order_id AND w.status <> 'closed';
  IF ROW_COUNT() = 0 THEN
    SIGNAL SQLSTATE '01000' SET MESSAGE_TEXT = 'The order was closed already';
  END IF;
END$$

DROP PROCEDURE IF EXISTS find_parts$$
CREATE PROCEDURE find_parts(IN p_words VARCHAR(100), IN p_max_price DECIMAL(10,2), IN p_sort VARCHAR(30))
READS SQL DATA
BEGIN
  SET @q = 'SELECT part_id, part_name, price, stock FROM part WHERE 1 = 1';
  IF p_words <> '' THEN
    SET @q = CONCAT(@q, ' AND MATCH (part_name, remark) AGAINST (? IN BOOLEAN MODE)');
  ELSE
    SET @q = CONCAT(@q, ' AND ? = ''''');
  END IF;
  SET @q = CONCAT(@q, ' ORDER BY part_name LIMIT 50');
  SET @w = p_words;
  PREPARE stmt FROM @q;
  EXECUTE stmt USING @w;
  DEALLOCATE PREPARE stmt;
END$$

DROP PROCEDURE IF EXISTS restock$$
CREATE PROCEDURE restock()
BEGIN
  DECLARE v_round TINYINT DEFAULT 0;
  CREATE TEMPORARY TABLE IF NOT EXISTS short_parts (
    part_id INT UNSIGNED NOT NULL PRIMARY KEY,
    missing INT NOT NULL
  ) ENGINE=MEMORY;
  TRUNCATE TABLE short_parts;
  INSERT IGNORE INTO short_parts
  SELECT part_id, min_stock - stock FROM part WHERE stock < min_stock AND discontinued = b'0';

  REPEAT
    INSERT INTO purchase (part_id, supplier_id, quantity, ordered_on)
    SELECT s.part_id, ps.supplier_id, s.missing, CURRENT_DATE
      FROM short_parts s
      JOIN part_supplier ps ON ps.part_id = s.part_id AND ps.preference = v_round
    ON DUPLICATE KEY UPDATE quantity = purchase.quantity + VALUES(quantity);
    DELETE s FROM short_parts s JOIN purchase p ON p.part_id = s.part_id AND p.ordered_on = CURRENT_DATE;
    SET v_round = v_round + 1;
  UNTIL v_round > 3 OR (SELECT COUNT(*) FROM short_parts) = 0 END REPEAT;

  SELECT p.part_id, p.part_name, s.missing FROM short_parts s NATURAL JOIN part p ORDER BY s.missing DESC;
  DROP TEMPORARY TABLE short_parts;
END$$

DROP PROCEDURE IF EXISTS lift_plan$$
CREATE PROCEDURE lift_plan(p_day DATE)
BEGIN
  DECLARE v_hoist INT;
  SELECT GET_LOCK('lift_plan', 10) INTO @locked;
  IF @locked = 0 THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'Somebody else is planning lifts';
  END IF;
  CASE DAYNAME(p_day)
    WHEN 'Sunday' THEN SELECT 'No lifts on Sundays' AS message;
    WHEN 'Saturday' THEN
      SET v_hoist = 1;
      INSERT INTO lift (hoist_id, boat_id, planned_at) SELECT v_hoist, boat_id, TIMESTAMP(p_day, '08:00:00') FROM boat WHERE wishes_lift = p_day LIMIT 4;
    ELSE
      BEGIN
        SET v_hoist = 2;
        REPLACE INTO lift (hoist_id, boat_id, planned_at)
        SELECT v_hoist, boat_id, ADDTIME(TIMESTAMP(p_day), SEC_TO_TIME(27000 + 2700 * (ROW_NUMBER() OVER (ORDER BY weight_t DESC) - 1)))
          FROM boat WHERE wishes_lift = p_day;
      END;
  END CASE;
  DO RELEASE_LOCK('lift_plan');
END$$

DROP PROCEDURE IF EXISTS move_boat$$
CREATE PROCEDURE move_boat(IN p_boat INT UNSIGNED, IN p_to SMALLINT UNSIGNED, IN p_at DATETIME)
proc: BEGIN
  DECLARE v_from SMALLINT UNSIGNED DEFAULT (SELECT berth_id FROM lay_up WHERE boat_id = p_boat AND launched_at IS NULL LIMIT 1);
  IF v_from <=> p_to THEN
    LEAVE proc;
  END IF;
  IF !berth_free(p_to, p_at, p_at + INTERVAL 6 MONTH) THEN
    SIGNAL SQLSTATE '45002' SET MESSAGE_TEXT = 'The place is taken';
  END IF;
  UPDATE lay_up SET berth_id = p_to, moved_at = p_at WHERE boat_id = p_boat AND launched_at IS NULL ORDER BY lifted_at DESC LIMIT 1;
  INSERT INTO movement (boat_id, from_berth, to_berth, moved_at) VALUES (p_boat, v_from, p_to, p_at);
END proc$$

DROP PROCEDURE IF EXISTS month_report$$
CREATE PROCEDURE month_report(IN p_year YEAR, IN p_month TINYINT)
BEGIN
  DECLARE v_first DATE DEFAULT STR_TO_DATE(CONCAT_WS('-', p_year, p_month, '01'), '%Y-%m-%d');
  SELECT w.kind, COUNT(*) AS orders, SUM(w.total) AS total,
         GROUP_CONCAT(DISTINCT c.name ORDER BY c.name SEPARATOR ', ') AS customers,
         DATE_FORMAT(MIN(w.closed_at), '%d.%m.%Y') AS first_closed
    FROM work_order w
    STRAIGHT_JOIN customer c ON c.customer_id = w.customer_id
   WHERE w.closed_at >= v_first AND w.closed_at < v_first + INTERVAL 1 MONTH
   GROUP BY w.kind WITH ROLLUP;
  SELECT SQL_CALC_FOUND_ROWS s.worker_id, SUM(s.hours) AS hours, SUM(IF(WEEKDAY(s.worked_on) >= 5, s.hours, 0)) AS weekend
    FROM time_sheet s USE INDEX (ix_time_sheet_day)
   WHERE s.worked_on BETWEEN v_first AND LAST_DAY(v_first)
   GROUP BY s.worker_id HAVING hours > 0
   ORDER BY hours DESC LIMIT 0, 20;
  SELECT FOUND_ROWS() INTO @workers;
END$$

DROP PROCEDURE IF EXISTS export_stock$$
CREATE PROCEDURE export_stock()
BEGIN
  SELECT part_id, part_name, stock INTO OUTFILE '/var/lib/mysql-files/stock.csv'
    FIELDS TERMINATED BY ';' OPTIONALLY ENCLOSED BY '"' LINES TERMINATED BY '\r\n'
    FROM part;
END$$

CREATE PROCEDURE purge_logs(IN p_days INT)
BEGIN
  DECLARE v_rows INT DEFAULT 1;
  WHILE v_rows > 0 DO
    DELETE LOW_PRIORITY QUICK FROM error_log WHERE logged_at < NOW() - INTERVAL p_days DAY LIMIT 1000;
    SET v_rows = ROW_COUNT();
    DO SLEEP(0.1);
  END WHILE;
  OPTIMIZE TABLE error_log;
END$$

CREATE PROCEDURE merge_customers(IN p_keep INT UNSIGNED, IN p_drop INT UNSIGNED)
BEGIN
  DECLARE v_table VARCHAR(64);
  DECLARE v_done BOOL DEFAULT 0;
  DECLARE cur CURSOR FOR
    SELECT table_name FROM information_schema.columns
     WHERE table_schema = DATABASE() AND column_name = 'customer_id' AND table_name NOT IN ('customer', 'debtor');
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET v_done = 1;
  OPEN cur;
  again: LOOP
    FETCH cur INTO v_table;
    IF v_done THEN LEAVE again; END IF;
    SET @s = CONCAT('UPDATE `', v_table, '` SET customer_id = ? WHERE customer_id = ?');
    PREPARE s FROM @s;
    SET @a = p_keep, @b = p_drop;
    EXECUTE s USING @a, @b;
    DEALLOCATE PREPARE s;
  END LOOP;
  CLOSE cur;
  DELETE FROM customer WHERE customer_id = p_drop;
END$$

DROP EVENT IF EXISTS nightly_restock$$
CREATE DEFINER=`yard`@`localhost` EVENT nightly_restock
ON SCHEDULE EVERY 1 DAY STARTS '2024-01-01 02:15:00'
ON COMPLETION PRESERVE ENABLE
COMMENT 'Orders what runs short'
DO BEGIN
  CALL restock();
  CALL purge_logs(90);
END$$

CREATE EVENT one_reminder ON SCHEDULE AT CURRENT_TIMESTAMP + INTERVAL 1 HOUR
DO INSERT INTO notice (notice_text, created_at) VALUES ('Check the bilge pumps of the pontoon', NOW())$$

DELIMITER ;
/*!50003 SET sql_mode = @saved_sql_mode */;
SET GLOBAL event_scheduler = ON;
