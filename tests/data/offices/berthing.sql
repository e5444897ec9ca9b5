-- Berthing desk, MySQL 8
CREATE DATABASE IF NOT EXISTS berthing DEFAULT CHARACTER SET utf8mb4;
USE berthing;
DROP TABLE IF EXISTS `berth`;
CREATE TABLE `berth` (
  `berth_id` smallint unsigned NOT NULL AUTO_INCREMENT,
  `code` char(4) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  `length_m` decimal(6,2) unsigned NOT NULL DEFAULT '0.00',
  `kind` enum('quay','buoy','jetty') NOT NULL DEFAULT 'quay',
  `services` set('water','power','fuel') DEFAULT NULL,
  `is_open` tinyint(1) NOT NULL DEFAULT '1',
  `notes` mediumtext,
  `layout` json DEFAULT NULL,
  `updated_at` timestamp NULL DEFAULT CURRENT_TIMESTAMP ON UPDATE CURRENT_TIMESTAMP,
  `label` varchar(40) GENERATED ALWAYS AS (concat(`code`,' - ',`kind`)) VIRTUAL,
  PRIMARY KEY (`berth_id`),
  UNIQUE KEY `uq_code` (`code`),
  KEY `ix_kind_len` (`kind`,`length_m` DESC),
  CONSTRAINT `ck_len` CHECK ((`length_m` between 0 and 450))
) ENGINE=InnoDB AUTO_INCREMENT=101 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_0900_ai_ci COMMENT='Berths of the port';
CREATE TABLE `visit` (
  `visit_id` bigint NOT NULL AUTO_INCREMENT, `berth_id` smallint unsigned NOT NULL, `ship` varchar(80) NOT NULL, `eta` datetime(3) NOT NULL,
  `etd` datetime(3) DEFAULT NULL, `dues` double DEFAULT NULL, `state` varchar(12) NOT NULL DEFAULT 'planned', `year_no` year DEFAULT NULL,
  `flags` bit(3) NOT NULL DEFAULT b'000', `doc` blob,
  PRIMARY KEY (`visit_id`), KEY `fk_b` (`berth_id`), FULLTEXT KEY `ft_ship` (`ship`),
  CONSTRAINT `fk_visit_berth` FOREIGN KEY (`berth_id`) REFERENCES `berth` (`berth_id`) ON DELETE RESTRICT ON UPDATE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4
PARTITION BY HASH (`visit_id`) PARTITIONS 4;
CREATE TABLE visit_log (id int unsigned AUTO_INCREMENT PRIMARY KEY, visit_id bigint, what varchar(200), who varchar(80) DEFAULT (CURRENT_USER()), at datetime DEFAULT NOW());
INSERT INTO berth (code, length_m, kind, services) VALUES ('Q1', 120.5, 'quay', 'water,power'), ('B7', 40, 'buoy', NULL);
CREATE OR REPLACE ALGORITHM=MERGE DEFINER=`root`@`localhost` SQL SECURITY DEFINER VIEW v_now AS
SELECT b.code, v.ship, TIMESTAMPDIFF(HOUR, v.eta, IFNULL(v.etd, NOW())) AS hours_in, IF(v.dues > 1000, 'big', 'small') AS size_class,
  DATE_FORMAT(v.eta, '%a %d %b %Y %H:%i') AS eta_text, b.layout->>'$.depth' AS depth, FIND_IN_SET('fuel', b.services) > 0 AS has_fuel
FROM berth b JOIN visit v USING (berth_id) WHERE v.eta <= NOW() AND (v.etd IS NULL OR v.etd > NOW()) AND b.is_open;
CREATE VIEW v_month AS
SELECT YEAR(eta) AS y, MONTH(eta) AS m, COUNT(DISTINCT ship) AS ships, SUM(dues) AS dues, AVG(TIMESTAMPDIFF(MINUTE, eta, etd)) / 60 AS avg_h,
  GROUP_CONCAT(DISTINCT ship ORDER BY ship SEPARATOR ', ') AS names, SUM(state = 'left') AS gone
FROM visit GROUP BY YEAR(eta), MONTH(eta) WITH ROLLUP;
CREATE VIEW v_rank AS
WITH t AS (SELECT berth_id, SUM(dues) AS total, RANK() OVER (ORDER BY SUM(dues) DESC) AS pos FROM visit GROUP BY berth_id)
SELECT b.code, t.total, t.pos, ROUND(t.total / SUM(t.total) OVER () * 100, 1) AS pct FROM t LEFT JOIN berth b ON b.berth_id = t.berth_id;
DELIMITER $$
CREATE FUNCTION dues_for(p_len DECIMAL(6,2), p_hours INT, p_kind VARCHAR(10)) RETURNS DECIMAL(10,2)
  DETERMINISTIC NO SQL COMMENT 'harbour dues'
BEGIN
  DECLARE rate DECIMAL(8,4) DEFAULT 1.25;
  DECLARE days INT;
  SET days = CEIL(p_hours / 24);
  CASE LOWER(p_kind)
    WHEN 'buoy' THEN SET rate = rate / 2;
    WHEN 'jetty' THEN SET rate = rate * 1.1;
    ELSE BEGIN END;
  END CASE;
  IF days = 0 THEN RETURN 0; ELSEIF days > 30 THEN SET rate = rate * 0.8; END IF;
  RETURN ROUND(p_len * days * rate, 2);
END$$
CREATE PROCEDURE book(IN p_code CHAR(4), IN p_ship VARCHAR(80), IN p_eta DATETIME, IN p_hours INT, OUT p_id BIGINT, OUT p_msg VARCHAR(200))
proc: BEGIN
  DECLARE v_berth SMALLINT UNSIGNED;
  DECLARE v_open TINYINT(1);
  DECLARE v_len DECIMAL(6,2);
  DECLARE v_clash INT DEFAULT 0;
  DECLARE EXIT HANDLER FOR SQLEXCEPTION
  BEGIN
    GET DIAGNOSTICS CONDITION 1 @sqlstate = RETURNED_SQLSTATE, @errno = MYSQL_ERRNO, @text = MESSAGE_TEXT;
    ROLLBACK;
    SET p_msg = CONCAT('error ', @errno, ' (', @sqlstate, '): ', @text);
  END;
  SELECT berth_id, is_open, length_m INTO v_berth, v_open, v_len FROM berth WHERE code = p_code;
  IF v_berth IS NULL THEN
    SET p_msg = 'no such berth';
    LEAVE proc;
  END IF;
  IF NOT v_open THEN SIGNAL SQLSTATE '45001' SET MESSAGE_TEXT = 'berth is closed', MYSQL_ERRNO = 5001; END IF;
  SELECT COUNT(*) INTO v_clash FROM visit WHERE berth_id = v_berth AND eta < p_eta + INTERVAL p_hours HOUR AND COALESCE(etd, '9999-12-31') > p_eta FOR UPDATE;
  IF v_clash THEN SET p_msg = CONCAT('taken by ', v_clash); LEAVE proc; END IF;
  START TRANSACTION;
  INSERT INTO visit SET berth_id = v_berth, ship = TRIM(p_ship), eta = p_eta, etd = DATE_ADD(p_eta, INTERVAL p_hours HOUR), dues = dues_for(v_len, p_hours, 'quay'), year_no = YEAR(p_eta);
  SET p_id = LAST_INSERT_ID();
  INSERT INTO visit_log (visit_id, what) VALUES (p_id, CONCAT_WS(' ', 'booked', p_ship, 'at', p_code));
  COMMIT;
  SET p_msg = 'ok';
END proc$$
CREATE PROCEDURE settle(p_from DATE, p_to DATE)
BEGIN
  DECLARE done BOOL DEFAULT FALSE;
  DECLARE v_id BIGINT; DECLARE v_h INT; DECLARE v_sum DOUBLE DEFAULT 0; DECLARE n INT DEFAULT 0;
  DECLARE cur CURSOR FOR SELECT visit_id, TIMESTAMPDIFF(HOUR, eta, etd) FROM visit WHERE DATE(eta) BETWEEN p_from AND p_to AND state <> 'settled' ORDER BY eta;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET done := TRUE;
  CREATE TEMPORARY TABLE IF NOT EXISTS tmp_dues (visit_id BIGINT PRIMARY KEY, amount DECIMAL(10,2)) ENGINE=MEMORY;
  DELETE FROM tmp_dues;
  OPEN cur;
  rd: LOOP
    FETCH cur INTO v_id, v_h;
    IF done THEN LEAVE rd; END IF;
    IF v_h IS NULL OR v_h <= 0 THEN ITERATE rd; END IF;
    INSERT INTO tmp_dues VALUES (v_id, v_h * 2.5) ON DUPLICATE KEY UPDATE amount = amount + VALUES(amount);
    SET n = n + 1, v_sum = v_sum + v_h * 2.5;
  END LOOP rd;
  CLOSE cur;
  UPDATE visit v INNER JOIN tmp_dues t ON t.visit_id = v.visit_id SET v.dues = t.amount, v.state = 'settled';
  DELETE l FROM visit_log l LEFT JOIN visit v ON v.visit_id = l.visit_id WHERE v.visit_id IS NULL;
  SELECT n AS settled, ROUND(v_sum, 2) AS total, (SELECT MAX(amount) FROM tmp_dues) AS biggest;
  SELECT * FROM tmp_dues ORDER BY amount DESC LIMIT 5;
  DROP TEMPORARY TABLE tmp_dues;
END$$
CREATE PROCEDURE find_ships(IN p_words VARCHAR(100), IN p_sort VARCHAR(20), IN p_max INT)
BEGIN
  SET @w = CONCAT('%', REPLACE(p_words, '%', '\\%'), '%');
  SET @n = p_max;
  SET @sql = CONCAT('SELECT ship, COUNT(*) AS visits FROM visit WHERE ship LIKE ? GROUP BY ship ORDER BY ', IF(p_sort = 'visits', '2 DESC', 'ship'), ' LIMIT ?');
  PREPARE st FROM @sql;
  EXECUTE st USING @w, @n;
  DEALLOCATE PREPARE st;
END$$
CREATE TRIGGER visit_bi BEFORE INSERT ON visit FOR EACH ROW
BEGIN
  IF NEW.etd IS NOT NULL AND NEW.etd <= NEW.eta THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'etd before eta';
  END IF;
  SET NEW.ship = UPPER(TRIM(NEW.ship)), NEW.year_no = IFNULL(NEW.year_no, YEAR(NEW.eta));
END$$
CREATE TRIGGER visit_au AFTER UPDATE ON visit FOR EACH ROW
  IF NOT (OLD.state <=> NEW.state) THEN
    INSERT INTO visit_log (visit_id, what) VALUES (NEW.visit_id, CONCAT(OLD.state, ' -> ', NEW.state));
  END IF$$
CREATE EVENT ev_old ON SCHEDULE EVERY 1 DAY STARTS '2024-01-01 03:00:00' DO
  DELETE FROM visit_log WHERE at < NOW() - INTERVAL 90 DAY$$
DELIMITER ;
GRANT SELECT, INSERT ON berthing.visit TO 'desk'@'%';
