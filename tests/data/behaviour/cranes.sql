-- A crane office in MySQL, as one shop writes it; made-up cases run every routine on MariaDB and on its draft.
CREATE TABLE `crane` (`id` int(11) unsigned NOT NULL AUTO_INCREMENT, `code` varchar(12) CHARACTER SET latin1 NOT NULL, `label` varchar(100) DEFAULT NULL, `max_load` decimal(10,3) NOT NULL DEFAULT '0.000', `active` tinyint(1) NOT NULL DEFAULT '1', `kind` enum('gantry','mobile','floating') NOT NULL DEFAULT 'mobile', `flags` set('night','ice','remote') DEFAULT NULL, `extra` json DEFAULT NULL, `created_at` timestamp NOT NULL DEFAULT CURRENT_TIMESTAMP, `updated_at` datetime DEFAULT NULL ON UPDATE CURRENT_TIMESTAMP, PRIMARY KEY (`id`), UNIQUE KEY `uk_code` (`code`), KEY `ix_label` (`label`(20))) ENGINE=InnoDB AUTO_INCREMENT=41 DEFAULT CHARSET=utf8mb4 COMMENT='cranes of the quay';
CREATE TABLE lift (lift_no bigint NOT NULL AUTO_INCREMENT PRIMARY KEY, crane_id int unsigned NOT NULL, started datetime(3) NOT NULL, ended datetime, weight double, cost float(10,2), remarks text, hash binary(16), yr year, KEY (crane_id, started), CONSTRAINT fk_lift_crane FOREIGN KEY (crane_id) REFERENCES crane (id) ON DELETE CASCADE ON UPDATE CASCADE);
CREATE TABLE lift_log (id int auto_increment primary key, lift_no bigint, act char(1), msg varchar(255), at_time timestamp default current_timestamp on update current_timestamp);
CREATE TABLE daily (d date NOT NULL, crane_id int unsigned NOT NULL, lifts int NOT NULL DEFAULT 0, tons decimal(12,3) DEFAULT 0, PRIMARY KEY (d, crane_id));
CREATE OR REPLACE ALGORITHM=MERGE DEFINER=`root`@`localhost` SQL SECURITY DEFINER VIEW v_crane AS select c.id, c.code, ifnull(c.label,'?') as label, count(l.lift_no) as n, group_concat(distinct date_format(l.started,'%d.%m.%Y') order by l.started desc separator ', ') as days, max(l.started) last_lift from crane c left join lift l on l.crane_id=c.id where c.active group by c.id;
CREATE VIEW v_recent AS SELECT *, TIMESTAMPDIFF(MINUTE, started, IFNULL(ended, NOW())) AS mins, IF(ended IS NULL, 'running', 'done') AS st, YEARWEEK(started) yw, DAYNAME(started) dn FROM lift WHERE started > NOW() - INTERVAL 7 DAY ORDER BY started DESC LIMIT 50;
CREATE VIEW v_json AS SELECT id, JSON_UNQUOTE(JSON_EXTRACT(extra, '$.maker')) AS maker, extra->>'$.year' AS y, JSON_LENGTH(extra, '$.tags') AS tags, FIND_IN_SET('night', flags) > 0 AS at_night FROM crane;
DELIMITER $$
CREATE FUNCTION lift_minutes(p_lift BIGINT) RETURNS INT READS SQL DATA DETERMINISTIC
BEGIN
  DECLARE v INT DEFAULT 0;
  SELECT TIMESTAMPDIFF(MINUTE, started, ended) INTO v FROM lift WHERE lift_no = p_lift;
  RETURN IFNULL(v, -1);
END$$
CREATE FUNCTION slug(s VARCHAR(255)) RETURNS VARCHAR(255) CHARSET utf8mb4 NO SQL
BEGIN
  DECLARE i INT DEFAULT 1; DECLARE r VARCHAR(255) DEFAULT ''; DECLARE c CHAR(1);
  SET s = LOWER(TRIM(s));
  w: WHILE i <= CHAR_LENGTH(s) DO
    SET c = SUBSTRING(s, i, 1);
    SET i = i + 1;
    IF c REGEXP '[a-z0-9]' THEN SET r = CONCAT(r, c);
    ELSEIF RIGHT(r, 1) <> '-' THEN SET r = CONCAT(r, '-');
    ELSE ITERATE w;
    END IF;
  END WHILE w;
  RETURN TRIM(BOTH '-' FROM r);
END$$
CREATE FUNCTION price(w DOUBLE, night BOOL) RETURNS DECIMAL(10,2) DETERMINISTIC
BEGIN
  DECLARE base DECIMAL(10,2);
  CASE WHEN w < 1 THEN SET base = 50; WHEN w BETWEEN 1 AND 10 THEN SET base = 50 + w * 12.5; ELSE SET base = 175 + (w - 10) * 9; END CASE;
  IF night THEN SET base = base * 1.5; END IF;
  RETURN ROUND(base, 2);
END$$
CREATE PROCEDURE add_lift(IN p_code VARCHAR(12), IN p_weight DOUBLE, OUT p_no BIGINT)
proc: BEGIN
  DECLARE v_id INT UNSIGNED;
  DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN ROLLBACK; GET DIAGNOSTICS CONDITION 1 @err = MESSAGE_TEXT; INSERT INTO lift_log(act, msg) VALUES ('E', @err); RESIGNAL; END;
  START TRANSACTION;
  SELECT id INTO v_id FROM crane WHERE code = p_code AND active = 1 LIMIT 1 FOR UPDATE;
  IF v_id IS NULL THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'no such crane', MYSQL_ERRNO = 1644; END IF;
  INSERT INTO lift SET crane_id = v_id, started = NOW(3), weight = p_weight;
  SET p_no = LAST_INSERT_ID();
  IF p_weight > 100 THEN LEAVE proc; END IF;
  INSERT INTO daily (d, crane_id, lifts, tons) VALUES (CURDATE(), v_id, 1, p_weight / 1000) ON DUPLICATE KEY UPDATE lifts = lifts + 1, tons = tons + VALUES(tons);
  COMMIT;
END proc$$
CREATE PROCEDURE close_all(p_crane INT UNSIGNED)
BEGIN
  DECLARE done TINYINT DEFAULT FALSE;
  DECLARE v_no BIGINT; DECLARE v_started DATETIME;
  DECLARE c CURSOR FOR SELECT lift_no, started FROM lift WHERE crane_id = p_crane AND ended IS NULL;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE;
  OPEN c;
  read_loop: LOOP
    FETCH c INTO v_no, v_started;
    IF done THEN LEAVE read_loop; END IF;
    UPDATE lift SET ended = DATE_ADD(v_started, INTERVAL 30 MINUTE), cost = price(weight, HOUR(v_started) NOT BETWEEN 6 AND 22) WHERE lift_no = v_no;
    IF ROW_COUNT() = 0 THEN INSERT INTO lift_log (lift_no, act) VALUES (v_no, 'X'); END IF;
  END LOOP;
  CLOSE c;
  SELECT COUNT(*) AS still_open FROM lift WHERE crane_id = p_crane AND ended IS NULL;
END$$
CREATE PROCEDURE month_sum(IN y INT, IN m INT)
BEGIN
  DROP TEMPORARY TABLE IF EXISTS tmp_sum;
  CREATE TEMPORARY TABLE tmp_sum (crane_id INT, tons DECIMAL(12,3), KEY(crane_id)) ENGINE=MEMORY;
  INSERT INTO tmp_sum SELECT crane_id, SUM(weight)/1000 FROM lift WHERE YEAR(started) = y AND MONTH(started) = m GROUP BY crane_id WITH ROLLUP;
  UPDATE tmp_sum t JOIN crane c ON c.id = t.crane_id SET t.tons = 0 WHERE c.active = 0;
  DELETE t FROM tmp_sum t LEFT JOIN crane c ON c.id = t.crane_id WHERE c.id IS NULL;
  SELECT c.code, t.tons, @rank := @rank + 1 AS rnk FROM tmp_sum t JOIN crane c ON c.id = t.crane_id, (SELECT @rank := 0) r ORDER BY t.tons DESC;
END$$
CREATE PROCEDURE purge_log(IN days INT)
BEGIN
  DECLARE n INT DEFAULT 1;
  SET @tot = 0;
  REPEAT
    DELETE FROM lift_log WHERE at_time < DATE_SUB(NOW(), INTERVAL days DAY) LIMIT 500;
    SET n = ROW_COUNT(), @tot = @tot + n;
  UNTIL n = 0 END REPEAT;
  SELECT @tot;
END$$
CREATE PROCEDURE dyn(IN tbl VARCHAR(64), IN col VARCHAR(64))
BEGIN
  SET @s = CONCAT('SELECT COUNT(DISTINCT `', col, '`) INTO @n FROM `', tbl, '`');
  PREPARE st FROM @s; EXECUTE st; DEALLOCATE PREPARE st;
  SELECT @n AS n;
END$$
CREATE PROCEDURE dyn2(IN p_kind VARCHAR(20), IN p_lim INT)
BEGIN
  SET @q = 'SELECT id, code FROM crane WHERE kind = ? ORDER BY code LIMIT ?';
  SET @a = p_kind, @b = p_lim;
  PREPARE st FROM @q; EXECUTE st USING @a, @b; DEALLOCATE PREPARE st;
END$$
CREATE TRIGGER lift_bi BEFORE INSERT ON lift FOR EACH ROW BEGIN IF NEW.weight < 0 THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT='negative weight'; END IF; SET NEW.yr = YEAR(NEW.started), NEW.remarks = COALESCE(NEW.remarks, ''); END$$
CREATE TRIGGER lift_au AFTER UPDATE ON lift FOR EACH ROW BEGIN IF NOT (OLD.weight <=> NEW.weight) THEN INSERT INTO lift_log (lift_no, act, msg) VALUES (NEW.lift_no, 'U', CONCAT('weight ', OLD.weight, ' -> ', NEW.weight)); END IF; END$$
CREATE TRIGGER crane_bd BEFORE DELETE ON crane FOR EACH ROW INSERT INTO lift_log(act, msg) VALUES('D', CONCAT_WS(' ', OLD.code, OLD.label))$$
CREATE PROCEDURE nested()
BEGIN
  DECLARE x INT DEFAULT 3;
  DECLARE dup CONDITION FOR 1062;
  outer_loop: WHILE x > 0 DO
    BEGIN
      DECLARE CONTINUE HANDLER FOR dup SET x = x - 1;
      INSERT INTO crane (code, label) VALUES ('A1', 'dup');
    END;
    IF x = 1 THEN LEAVE outer_loop; END IF;
    SET x = x - 1;
  END WHILE;
  CALL add_lift('A1', 3.5, @no);
  SELECT @no, x;
END$$
CREATE FUNCTION quarter_label(d DATE) RETURNS CHAR(7) DETERMINISTIC RETURN CONCAT(YEAR(d), '-Q', QUARTER(d))$$
CREATE FUNCTION next_code(prefix VARCHAR(4)) RETURNS VARCHAR(12) READS SQL DATA
BEGIN
  DECLARE n INT;
  SELECT MAX(CAST(SUBSTRING_INDEX(code, '-', -1) AS UNSIGNED)) + 1 INTO n FROM crane WHERE code LIKE CONCAT(prefix, '-%');
  RETURN CONCAT(prefix, '-', LPAD(IFNULL(n, 1), 4, '0'));
END$$
CREATE EVENT ev_purge ON SCHEDULE EVERY 1 DAY STARTS '2025-01-01 03:00:00' DO CALL purge_log(90)$$
CREATE PROCEDURE stats(IN p_from DATE, IN p_to DATE)
BEGIN
  SELECT DATE(started) AS d, COUNT(*) AS n, SUM(weight > 10) AS heavy, AVG(IF(ended, TIMESTAMPDIFF(SECOND, started, ended), NULL)) AS secs, BIT_OR(1 << HOUR(started)) AS hrs
  FROM lift WHERE started >= p_from AND started < p_to + INTERVAL 1 DAY GROUP BY d HAVING n > 1 ORDER BY NULL;
  SELECT STR_TO_DATE('03.04.2025', '%d.%m.%Y') AS d1, UNIX_TIMESTAMP(p_from) AS u, FROM_UNIXTIME(1700000000) AS f, LAST_DAY(p_to) AS ld, DATEDIFF(p_to, p_from) AS dd, MD5('x') AS h, INET_ATON('10.0.0.1') AS ip, FIELD('b','a','b') AS fl, ELT(2,'a','b') AS e, CONV('ff',16,10) AS c, HEX('abc') AS hx, MAKEDATE(2025, 32) AS md, ADDTIME('10:00:00','00:30:00') AS atm, SEC_TO_TIME(3661) AS st, FORMAT(1234567.891, 2) AS fm;
END$$
DELIMITER ;
