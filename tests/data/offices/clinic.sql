SET NAMES utf8mb4;
CREATE TABLE `patients` (
  `id` int unsigned NOT NULL AUTO_INCREMENT,
  `mrn` varchar(20) COLLATE utf8mb4_unicode_ci NOT NULL,
  `full_name` varchar(120) NOT NULL,
  `sex` enum('F','M','X') DEFAULT NULL,
  `born` date NOT NULL,
  `phone` varchar(30) DEFAULT NULL,
  `flags` set('vip','deaf','minor') NOT NULL DEFAULT '',
  `meta` json DEFAULT NULL,
  `created_at` timestamp NOT NULL DEFAULT CURRENT_TIMESTAMP,
  `updated_at` timestamp NULL DEFAULT NULL ON UPDATE CURRENT_TIMESTAMP,
  `deleted` tinyint(1) NOT NULL DEFAULT '0',
  PRIMARY KEY (`id`),
  UNIQUE KEY `uq_mrn` (`mrn`),
  KEY `ix_name` (`full_name`(20)),
  KEY `ix_born` (`born`)
) ENGINE=InnoDB AUTO_INCREMENT=1001 DEFAULT CHARSET=utf8mb4 COMMENT='People';
CREATE TABLE `visits` (
  `id` bigint NOT NULL AUTO_INCREMENT PRIMARY KEY,
  `patient_id` int unsigned NOT NULL,
  `seen_at` datetime NOT NULL,
  `minutes` smallint unsigned DEFAULT 15,
  `fee` decimal(10,2) NOT NULL DEFAULT '0.00',
  `paid` decimal(10,2) NOT NULL DEFAULT 0,
  `balance` decimal(10,2) GENERATED ALWAYS AS (`fee` - `paid`) STORED,
  `notes` mediumtext,
  CONSTRAINT `fk_visit_patient` FOREIGN KEY (`patient_id`) REFERENCES `patients` (`id`) ON UPDATE CASCADE,
  INDEX (`seen_at`)
) ENGINE=InnoDB;
CREATE TABLE audit_log (id int auto_increment primary key, what varchar(200), at datetime(3) default current_timestamp(3), who varchar(80));
CREATE TABLE counters (name varchar(30) primary key, n int not null default 0);
CREATE OR REPLACE VIEW v_owing AS
SELECT p.id, CONCAT(p.full_name, ' <', IFNULL(p.phone, '-'), '>') AS contact, SUM(v.balance) AS owing,
  TIMESTAMPDIFF(YEAR, p.born, CURDATE()) AS age, DATE_FORMAT(MAX(v.seen_at), '%d.%m.%Y %H:%i') AS last_seen,
  GROUP_CONCAT(DISTINCT YEAR(v.seen_at) ORDER BY v.seen_at DESC SEPARATOR ', ') AS years
FROM patients p JOIN visits v ON v.patient_id = p.id
WHERE NOT p.deleted GROUP BY p.id HAVING owing > 0 ORDER BY owing DESC;
DELIMITER $$
CREATE FUNCTION age_on(b DATE, d DATE) RETURNS INT DETERMINISTIC
BEGIN
  DECLARE a INT;
  SET a = YEAR(d) - YEAR(b) - (DATE_FORMAT(d, '%m%d') < DATE_FORMAT(b, '%m%d'));
  RETURN a;
END$$
CREATE FUNCTION initials(n VARCHAR(120)) RETURNS VARCHAR(20) NO SQL
BEGIN
  DECLARE out_ VARCHAR(20) DEFAULT '';
  DECLARE i INT DEFAULT 1;
  DECLARE prev CHAR(1) DEFAULT ' ';
  w: WHILE i <= CHAR_LENGTH(n) DO
    IF prev = ' ' AND SUBSTRING(n, i, 1) <> ' ' THEN
      SET out_ = CONCAT(out_, UPPER(SUBSTRING(n, i, 1)), '.');
    END IF;
    SET prev = SUBSTRING(n, i, 1);
    SET i = i + 1;
    IF CHAR_LENGTH(out_) > 10 THEN LEAVE w; END IF;
  END WHILE;
  RETURN out_;
END$$
CREATE FUNCTION next_no(p_name VARCHAR(30)) RETURNS INT MODIFIES SQL DATA
BEGIN
  INSERT INTO counters (name, n) VALUES (p_name, 1) ON DUPLICATE KEY UPDATE n = n + 1;
  RETURN (SELECT n FROM counters WHERE name = p_name);
END$$
CREATE PROCEDURE add_patient(IN p_name VARCHAR(120), IN p_born DATE, IN p_sex CHAR(1), OUT p_id INT)
BEGIN
  DECLARE v_mrn VARCHAR(20);
  DECLARE EXIT HANDLER FOR 1062
  BEGIN
    SET p_id = -1;
    INSERT INTO audit_log (what, who) VALUES (CONCAT('duplicate ', v_mrn), CURRENT_USER());
  END;
  IF p_born > CURDATE() THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'Born in the future', MYSQL_ERRNO = 1644;
  END IF;
  SET v_mrn = CONCAT('P', LPAD(next_no('mrn'), 6, '0'));
  INSERT INTO patients (mrn, full_name, born, sex) VALUES (v_mrn, TRIM(p_name), p_born, NULLIF(p_sex, ''));
  SET p_id = LAST_INSERT_ID();
END$$
CREATE PROCEDURE bill_day(IN d DATE)
BEGIN
  DECLARE done BOOL DEFAULT FALSE;
  DECLARE v_id BIGINT;
  DECLARE v_min INT;
  DECLARE v_sum DECIMAL(12,2) DEFAULT 0;
  DECLARE cur CURSOR FOR SELECT id, minutes FROM visits WHERE DATE(seen_at) = d AND fee = 0;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE;
  START TRANSACTION;
  OPEN cur;
  read_loop: LOOP
    FETCH cur INTO v_id, v_min;
    IF done THEN LEAVE read_loop; END IF;
    CASE
      WHEN v_min <= 10 THEN SET v_sum = v_sum + 20;
      WHEN v_min BETWEEN 11 AND 30 THEN SET v_sum = v_sum + 45.5;
      ELSE SET v_sum = v_sum + 45.5 + (v_min - 30) * 1.25;
    END CASE;
    UPDATE visits SET fee = CASE WHEN v_min <= 10 THEN 20 ELSE 45.5 END WHERE id = v_id;
  END LOOP;
  CLOSE cur;
  COMMIT;
  SELECT d AS day, v_sum AS billed, ROW_COUNT() AS rc;
END$$
CREATE PROCEDURE report(IN p_from DATE, IN p_to DATE, IN p_kind VARCHAR(10))
BEGIN
  IF p_kind = 'day' THEN
    SELECT DATE(seen_at) d, COUNT(*) n, SUM(fee) total, AVG(minutes) FROM visits WHERE seen_at BETWEEN p_from AND p_to GROUP BY DATE(seen_at) WITH ROLLUP;
  ELSEIF p_kind = 'week' THEN
    SELECT YEARWEEK(seen_at, 3) w, COUNT(*) n FROM visits WHERE seen_at >= p_from AND seen_at < p_to + INTERVAL 1 DAY GROUP BY w ORDER BY w;
  ELSE
    SELECT p.full_name, v.* FROM visits v STRAIGHT_JOIN patients p ON p.id = v.patient_id ORDER BY v.seen_at LIMIT 5, 10;
  END IF;
END$$
CREATE PROCEDURE merge_patients(keep INT UNSIGNED, gone INT UNSIGNED)
proc: BEGIN
  DECLARE n INT;
  DECLARE EXIT HANDLER FOR SQLEXCEPTION
  BEGIN
    GET DIAGNOSTICS CONDITION 1 @st = RETURNED_SQLSTATE, @msg = MESSAGE_TEXT;
    ROLLBACK;
    RESIGNAL;
  END;
  IF keep = gone THEN LEAVE proc; END IF;
  SELECT COUNT(*) INTO n FROM patients WHERE id IN (keep, gone);
  IF n <> 2 THEN
    SIGNAL SQLSTATE '45001' SET MESSAGE_TEXT = 'Both must exist';
  END IF;
  START TRANSACTION;
  UPDATE visits v JOIN patients p ON p.id = v.patient_id SET v.patient_id = keep, v.notes = CONCAT_WS('; ', v.notes, CONCAT('was ', p.mrn)) WHERE p.id = gone;
  DELETE FROM patients WHERE id = gone LIMIT 1;
  COMMIT;
END$$
CREATE TRIGGER trg_visit_bi BEFORE INSERT ON visits FOR EACH ROW
BEGIN
  IF NEW.minutes IS NULL OR NEW.minutes < 5 THEN SET NEW.minutes = 5; END IF;
  IF NEW.seen_at > NOW() + INTERVAL 1 YEAR THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'Too far ahead';
  END IF;
END$$
CREATE TRIGGER trg_patient_au AFTER UPDATE ON patients FOR EACH ROW
BEGIN
  IF NOT (NEW.full_name <=> OLD.full_name) THEN
    INSERT INTO audit_log (what, who) VALUES (CONCAT_WS(' -> ', OLD.full_name, NEW.full_name), USER());
  END IF;
END$$
CREATE PROCEDURE find_patients(IN p_term VARCHAR(50), IN p_limit INT)
BEGIN
  SET @sql = CONCAT('SELECT id, full_name FROM patients WHERE full_name LIKE ? AND deleted = 0 ORDER BY full_name LIMIT ', p_limit);
  SET @t = CONCAT('%', p_term, '%');
  PREPARE s FROM @sql;
  EXECUTE s USING @t;
  DEALLOCATE PREPARE s;
END$$
CREATE PROCEDURE json_things(IN p_id INT)
BEGIN
  SELECT JSON_UNQUOTE(JSON_EXTRACT(meta, '$.gp.name')) gp, meta->>'$.lang' lang, JSON_LENGTH(meta, '$.tags') tags, JSON_CONTAINS(meta, '"x"', '$.tags') hasx
  FROM patients WHERE id = p_id;
  UPDATE patients SET meta = JSON_SET(COALESCE(meta, '{}'), '$.seen', NOW(), '$.n', 1) WHERE id = p_id;
  SELECT JSON_OBJECT('id', id, 'name', full_name) FROM patients;
  SELECT JSON_ARRAYAGG(mrn) FROM patients;
END$$
CREATE PROCEDURE days(IN a DATE, IN n INT)
BEGIN
  WITH RECURSIVE d (day, i) AS (SELECT a, 1 UNION ALL SELECT day + INTERVAL 1 DAY, i + 1 FROM d WHERE i < n)
  SELECT d.day, DAYNAME(d.day) wd, COUNT(v.id) visits, IF(DAYOFWEEK(d.day) IN (1, 7), 'weekend', 'work') kind
  FROM d LEFT JOIN visits v ON DATE(v.seen_at) = d.day GROUP BY d.day;
END$$
CREATE PROCEDURE cleanup()
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '42S02' BEGIN END;
  CREATE TEMPORARY TABLE IF NOT EXISTS tmp_old (id BIGINT PRIMARY KEY, seen DATETIME) ENGINE=MEMORY;
  TRUNCATE TABLE tmp_old;
  INSERT IGNORE INTO tmp_old SELECT id, seen_at FROM visits WHERE seen_at < DATE_SUB(NOW(), INTERVAL 7 YEAR);
  DELETE v FROM visits v INNER JOIN tmp_old t USING (id);
  SELECT ROW_COUNT() AS deleted, FOUND_ROWS() AS fr;
  DROP TEMPORARY TABLE tmp_old;
END$$
CREATE EVENT ev_clean ON SCHEDULE EVERY 1 DAY STARTS '2024-01-01 03:00:00' DO CALL cleanup()$$
DELIMITER ;
INSERT INTO patients (mrn, full_name, born, sex) VALUES ('P1','Ann O\'Hara','1980-02-29','F'),('P2',"Bo",'2010-12-01',NULL);
REPLACE INTO counters VALUES ('mrn', 2);
