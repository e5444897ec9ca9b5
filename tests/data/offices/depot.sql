/*!40101 SET NAMES utf8 */;
/*!40014 SET @OLD_FOREIGN_KEY_CHECKS=@@FOREIGN_KEY_CHECKS, FOREIGN_KEY_CHECKS=0 */;
DROP TABLE IF EXISTS `depot_item`;
CREATE TABLE `depot_item` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT, `sku` varchar(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  `title` varchar(190) DEFAULT NULL, `price` decimal(12,4) NOT NULL DEFAULT '0.0000', `qty` int(10) unsigned zerofill NOT NULL DEFAULT '0000000000',
  `flags` bit(4) DEFAULT b'0', `state` enum('new','used','scrap') NOT NULL DEFAULT 'new', `attrs` json DEFAULT NULL,
  `weight_kg` double(8,3) GENERATED ALWAYS AS (json_unquote(json_extract(`attrs`,'$.kg'))) VIRTUAL, `price_net` decimal(12,4) GENERATED ALWAYS AS (`price` / 1.25) STORED,
  `created_at` timestamp NOT NULL DEFAULT CURRENT_TIMESTAMP, `updated_at` timestamp NULL DEFAULT NULL ON UPDATE CURRENT_TIMESTAMP,
  `hash` binary(16) DEFAULT NULL, `year_made` year(4) DEFAULT NULL, `geo` point DEFAULT NULL,
  PRIMARY KEY (`id`), UNIQUE KEY `uk_sku` (`sku`), KEY `ix_title` (`title`(20)), KEY `ix_state` (`state`,`qty` DESC) USING BTREE, FULLTEXT KEY `ft` (`title`)
) ENGINE=InnoDB AUTO_INCREMENT=501 DEFAULT CHARSET=utf8mb4 ROW_FORMAT=DYNAMIC COMMENT='Things on shelves';
CREATE TABLE `depot_move` (
  `move_id` int NOT NULL AUTO_INCREMENT PRIMARY KEY, `item_id` bigint(20) unsigned NOT NULL, `delta` int NOT NULL, `at` datetime(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  `who` varchar(60) DEFAULT 'nobody', `note` mediumtext, CONSTRAINT `fk_move_item` FOREIGN KEY (`item_id`) REFERENCES `depot_item` (`id`) ON DELETE CASCADE ON UPDATE RESTRICT,
  CONSTRAINT `ck_delta` CHECK (`delta` <> 0)
) ENGINE=InnoDB;
CREATE TABLE `depot_day` (d date NOT NULL, n int NOT NULL DEFAULT 0, s decimal(14,2), PRIMARY KEY (d)) PARTITION BY RANGE (TO_DAYS(d)) (PARTITION p0 VALUES LESS THAN (TO_DAYS('2024-01-01')), PARTITION p1 VALUES LESS THAN MAXVALUE);
INSERT INTO `depot_item` (`id`,`sku`,`title`,`price`,`state`,`attrs`) VALUES (1,'A-1','Rope \'strong\'',12.5,'new','{\"kg\": 1.5, \"tags\": [\"x\",\"y\"]}'),(2,'A-2',NULL,3,'used',NULL);
CREATE OR REPLACE ALGORITHM=MERGE DEFINER=`root`@`%` SQL SECURITY INVOKER VIEW `v_stock` AS select `i`.`id` AS `id`,`i`.`sku` AS `sku`,ifnull(`i`.`title`,concat('#',`i`.`id`)) AS `title`,`i`.`qty` * `i`.`price` AS `worth`,if(`i`.`qty` > 10,'ok','low') AS `lvl`,date_format(`i`.`created_at`,'%d.%m.%Y %H:%i') AS `made`,`i`.`attrs`->>'$.kg' AS `kg` from `depot_item` `i` where `i`.`state` in ('new','used') with cascaded check option;
CREATE VIEW v_moves AS SELECT m.item_id, DATE(m.at) d, SUM(IF(m.delta > 0, m.delta, 0)) ins, SUM(CASE WHEN m.delta < 0 THEN -m.delta END) outs, GROUP_CONCAT(DISTINCT m.who ORDER BY m.who DESC SEPARATOR '; ') whos, COUNT(DISTINCT m.who) c FROM depot_move m GROUP BY m.item_id, DATE(m.at) WITH ROLLUP;
CREATE VIEW v_rank AS SELECT sku, price, RANK() OVER w rk, LAG(price, 1, 0) OVER w prev, SUM(price) OVER (ORDER BY price ROWS BETWEEN 2 PRECEDING AND CURRENT ROW) roll FROM depot_item WINDOW w AS (PARTITION BY state ORDER BY price DESC);
CREATE VIEW v_old AS SELECT sku, TIMESTAMPDIFF(MONTH, created_at, NOW()) AS months, DATEDIFF(CURDATE(), created_at) days, created_at + INTERVAL 1 YEAR AS due, LAST_DAY(created_at) ld, WEEK(created_at, 3) w, SUBSTRING_INDEX(sku, '-', 1) AS fam, FIELD(state, 'used', 'new') f, FIND_IN_SET('x', 'x,y') fis, LPAD(id, 6, '0') padded, FORMAT(price, 2) pr, ELT(2, 'a', 'b') e, MD5(sku) m, CONV(id, 10, 16) hx, INET_NTOA(3232235777) ip FROM depot_item;
DELIMITER $$
CREATE DEFINER=`root`@`localhost` FUNCTION `f_worth`(p_id BIGINT UNSIGNED, p_rate DECIMAL(5,2)) RETURNS decimal(14,2) READS SQL DATA DETERMINISTIC COMMENT 'what it is worth'
BEGIN
  DECLARE v_w DECIMAL(14,2) DEFAULT 0.00;
  DECLARE EXIT HANDLER FOR NOT FOUND RETURN -1;
  SELECT qty * price * (1 - p_rate / 100) INTO v_w FROM depot_item WHERE id = p_id LIMIT 1;
  RETURN v_w;
END$$
CREATE FUNCTION f_slug(s VARCHAR(190)) RETURNS VARCHAR(190) CHARSET utf8mb4 NO SQL
BEGIN
  DECLARE i INT DEFAULT 1; DECLARE c CHAR(1); DECLARE r VARCHAR(190) DEFAULT '';
  IF s IS NULL OR s = '' THEN RETURN NULL; END IF;
  REPEAT
    SET c = LOWER(SUBSTRING(s, i, 1));
    SET r = CONCAT(r, IF(c REGEXP '[a-z0-9]', c, IF(RIGHT(r, 1) = '-', '', '-')));
    SET i = i + 1;
  UNTIL i > CHAR_LENGTH(s) END REPEAT;
  RETURN TRIM(BOTH '-' FROM r);
END$$
CREATE PROCEDURE p_move(IN p_item BIGINT UNSIGNED, IN p_delta INT, IN p_who VARCHAR(60), OUT p_left INT)
proc: BEGIN
  DECLARE v_qty INT;
  DECLARE v_msg TEXT;
  DECLARE EXIT HANDLER FOR SQLEXCEPTION
  BEGIN
    GET DIAGNOSTICS CONDITION 1 v_msg = MESSAGE_TEXT;
    ROLLBACK;
    RESIGNAL;
  END;
  IF p_delta = 0 THEN SET p_left = NULL; LEAVE proc; END IF;
  START TRANSACTION;
  SELECT qty INTO v_qty FROM depot_item WHERE id = p_item FOR UPDATE;
  IF v_qty IS NULL THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'no such item', MYSQL_ERRNO = 1644; END IF;
  IF v_qty + p_delta < 0 THEN
    SET v_msg = CONCAT('only ', v_qty, ' left');
    SIGNAL SQLSTATE '45001' SET MESSAGE_TEXT = v_msg;
  END IF;
  UPDATE depot_item SET qty = qty + p_delta WHERE id = p_item;
  INSERT INTO depot_move SET item_id = p_item, delta = p_delta, who = COALESCE(p_who, USER());
  INSERT INTO depot_day (d, n, s) VALUES (CURDATE(), 1, p_delta) ON DUPLICATE KEY UPDATE n = n + 1, s = s + VALUES(s);
  SET p_left = v_qty + p_delta;
  COMMIT;
END proc$$
CREATE PROCEDURE p_restock(IN p_min INT, IN p_json JSON)
BEGIN
  DECLARE done BOOLEAN DEFAULT FALSE; DECLARE v_id BIGINT UNSIGNED; DECLARE v_need INT; DECLARE n INT DEFAULT 0; DECLARE l INT;
  DECLARE cur CURSOR FOR SELECT id, p_min - qty FROM depot_item WHERE qty < p_min ORDER BY id;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE;
  CREATE TEMPORARY TABLE IF NOT EXISTS tmp_need (id BIGINT UNSIGNED PRIMARY KEY, need INT NOT NULL) ENGINE=MEMORY;
  TRUNCATE TABLE tmp_need;
  OPEN cur;
  read_loop: LOOP
    FETCH cur INTO v_id, v_need;
    IF done THEN LEAVE read_loop; END IF;
    IF MOD(v_id, 7) = 0 THEN ITERATE read_loop; END IF;
    INSERT IGNORE INTO tmp_need VALUES (v_id, v_need);
    SET n = n + 1, l = ROW_COUNT();
  END LOOP;
  CLOSE cur;
  UPDATE depot_item i JOIN tmp_need t ON t.id = i.id SET i.qty = i.qty + t.need, i.updated_at = NOW();
  DELETE m FROM depot_move m LEFT JOIN depot_item i ON i.id = m.item_id WHERE i.id IS NULL;
  SET l = JSON_LENGTH(p_json);
  WHILE l > 0 DO
    SET l = l - 1;
    REPLACE INTO depot_day (d, n) VALUES (STR_TO_DATE(JSON_UNQUOTE(JSON_EXTRACT(p_json, CONCAT('$[', l, ']'))), '%Y-%m-%d'), l);
  END WHILE;
  SELECT n AS restocked; 
  SELECT t.id, t.need, i.title FROM tmp_need t LEFT JOIN depot_item i USING (id) ORDER BY t.need DESC LIMIT 10 OFFSET 0;
  DROP TEMPORARY TABLE tmp_need;
END$$
CREATE PROCEDURE p_search(IN p_q VARCHAR(100), IN p_sort VARCHAR(10), IN p_lim INT)
BEGIN
  SET @q = CONCAT('%', p_q, '%'), @lim = p_lim;
  SET @s = 'SELECT id, sku, title FROM depot_item WHERE title LIKE ? ORDER BY id LIMIT ?';
  PREPARE st FROM @s; EXECUTE st USING @q, @lim; DEALLOCATE PREPARE st;
  CASE p_sort WHEN 'a' THEN SELECT 1; WHEN 'b' THEN SELECT 2; ELSE BEGIN END; END CASE;
END$$
CREATE TRIGGER t_item_bi BEFORE INSERT ON depot_item FOR EACH ROW
BEGIN
  IF NEW.sku = '' THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'sku missing'; END IF;
  SET NEW.title = NULLIF(TRIM(NEW.title), ''), NEW.hash = UNHEX(MD5(NEW.sku));
END$$
CREATE TRIGGER t_move_ai AFTER INSERT ON depot_move FOR EACH ROW
  UPDATE depot_item SET updated_at = NEW.at WHERE id = NEW.item_id$$
CREATE EVENT e_clean ON SCHEDULE EVERY 1 DAY STARTS '2024-01-01 03:00:00' ON COMPLETION PRESERVE DO DELETE FROM depot_move WHERE at < NOW() - INTERVAL 2 YEAR$$
DELIMITER ;
/*!40014 SET FOREIGN_KEY_CHECKS=@OLD_FOREIGN_KEY_CHECKS */;
