-- An order desk in MySQL, as another shop writes it; made-up cases run every routine on MariaDB and on its draft.
CREATE TABLE customers (id int NOT NULL AUTO_INCREMENT, email varchar(190) NOT NULL, name varchar(100), country char(2) DEFAULT 'XX', credit decimal(12,2) DEFAULT 0.00, prefs json, born date, last_seen timestamp NULL, deleted_at datetime DEFAULT NULL, PRIMARY KEY (id), UNIQUE KEY email (email)) ENGINE=InnoDB;
CREATE TABLE orders (id bigint unsigned NOT NULL AUTO_INCREMENT, customer_id int NOT NULL, placed datetime NOT NULL DEFAULT CURRENT_TIMESTAMP, status enum('new','paid','sent','void') NOT NULL DEFAULT 'new', total decimal(12,2) NOT NULL DEFAULT 0, note text, PRIMARY KEY (id), KEY ix_cust (customer_id, placed), CONSTRAINT fk_c FOREIGN KEY (customer_id) REFERENCES customers (id)) ENGINE=InnoDB PARTITION BY RANGE (id) (PARTITION p0 VALUES LESS THAN (1000), PARTITION p1 VALUES LESS THAN MAXVALUE);
CREATE TABLE order_items (order_id bigint unsigned, line smallint unsigned, sku varchar(40), qty int unsigned, price decimal(10,2), PRIMARY KEY (order_id, line));
CREATE TABLE stats (k varchar(50) primary key, v bigint not null default 0, at_ts int unsigned);
DELIMITER //
CREATE FUNCTION order_total(p_order BIGINT UNSIGNED) RETURNS DECIMAL(12,2) READS SQL DATA BEGIN DECLARE t DECIMAL(12,2); SELECT COALESCE(SUM(qty * price), 0) INTO t FROM order_items WHERE order_id = p_order; RETURN t; END//
CREATE PROCEDURE place_order(IN p_email VARCHAR(190), IN p_items JSON, OUT p_id BIGINT)
BEGIN
  DECLARE v_cust INT; DECLARE i INT DEFAULT 0; DECLARE n INT DEFAULT JSON_LENGTH(p_items);
  DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN ROLLBACK; SET p_id = -1; END;
  SELECT id INTO v_cust FROM customers WHERE email = p_email;
  IF v_cust IS NULL THEN
    INSERT INTO customers (email, name) VALUES (p_email, SUBSTRING_INDEX(p_email, '@', 1));
    SET v_cust = LAST_INSERT_ID();
  END IF;
  START TRANSACTION;
  INSERT INTO orders (customer_id) VALUES (v_cust);
  SET p_id = LAST_INSERT_ID();
  WHILE i < n DO
    INSERT INTO order_items (order_id, line, sku, qty, price)
    VALUES (p_id, i + 1, JSON_UNQUOTE(JSON_EXTRACT(p_items, CONCAT('$[', i, '].sku'))), JSON_EXTRACT(p_items, CONCAT('$[', i, '].qty')), 9.99);
    SET i = i + 1;
  END WHILE;
  UPDATE orders SET total = order_total(p_id) WHERE id = p_id;
  COMMIT;
END//
CREATE PROCEDURE bump(IN p_key VARCHAR(50), IN p_by INT) INSERT INTO stats (k, v, at_ts) VALUES (p_key, p_by, UNIX_TIMESTAMP()) ON DUPLICATE KEY UPDATE v = v + p_by, at_ts = UNIX_TIMESTAMP()//
CREATE PROCEDURE report(IN p_days INT, IN p_country CHAR(2))
BEGIN
  SELECT c.id, c.name, COUNT(DISTINCT o.id) AS orders, IFNULL(SUM(o.total), 0) AS spent, MAX(o.placed) AS last_order,
         CASE WHEN SUM(o.total) > 1000 THEN 'gold' WHEN SUM(o.total) > 100 THEN 'silver' ELSE 'none' END AS tier,
         DATE_FORMAT(c.last_seen, '%Y-%m') AS seen, TIMESTAMPDIFF(YEAR, c.born, CURDATE()) AS age
  FROM customers c LEFT JOIN orders o ON o.customer_id = c.id AND o.status <> 'void' AND o.placed >= NOW() - INTERVAL p_days DAY
  WHERE c.deleted_at IS NULL AND (p_country IS NULL OR c.country = p_country)
  GROUP BY c.id, c.name HAVING orders > 0 OR age < 30 ORDER BY spent DESC, c.name LIMIT 100;
  SELECT status, COUNT(*) cnt, GROUP_CONCAT(id ORDER BY id SEPARATOR '|') ids FROM orders GROUP BY status WITH ROLLUP;
END//
CREATE PROCEDURE dedupe()
BEGIN
  DELETE o1 FROM orders o1 INNER JOIN orders o2 WHERE o1.id > o2.id AND o1.customer_id = o2.customer_id AND o1.placed = o2.placed;
  UPDATE customers c JOIN (SELECT customer_id, SUM(total) t FROM orders GROUP BY customer_id) x ON x.customer_id = c.id SET c.credit = LEAST(x.t * 0.1, 500), c.last_seen = NOW();
  REPLACE INTO stats (k, v) SELECT CONCAT('cust:', id), credit FROM customers;
  INSERT IGNORE INTO stats (k, v) VALUES ('runs', 0);
  UPDATE stats SET v = v + 1 WHERE k = 'runs' ORDER BY k LIMIT 1;
END//
CREATE FUNCTION luhn(s VARCHAR(30)) RETURNS TINYINT(1) DETERMINISTIC
BEGIN
  DECLARE i, d, t INT DEFAULT 0; DECLARE alt BOOLEAN DEFAULT FALSE;
  SET i = LENGTH(s), t = 0;
  WHILE i > 0 DO
    SET d = MID(s, i, 1);
    IF alt THEN SET d = d * 2; IF d > 9 THEN SET d = d - 9; END IF; END IF;
    SET t = t + d, alt = NOT alt, i = i - 1;
  END WHILE;
  RETURN t MOD 10 = 0;
END//
CREATE TRIGGER oi_ai AFTER INSERT ON order_items FOR EACH ROW UPDATE orders SET total = total + NEW.qty * NEW.price WHERE id = NEW.order_id//
CREATE TRIGGER cust_bu BEFORE UPDATE ON customers FOR EACH ROW BEGIN IF NEW.email <> OLD.email AND EXISTS(SELECT 1 FROM customers WHERE email = NEW.email) THEN SIGNAL SQLSTATE '23000' SET MESSAGE_TEXT = 'taken'; END IF; SET NEW.name = TRIM(NEW.name); END//
CREATE PROCEDURE walk_tree(IN p_id INT)
BEGIN
  DECLARE v_done INT DEFAULT 0; DECLARE v_id INT; DECLARE v_name VARCHAR(100);
  DECLARE cur CURSOR FOR SELECT id, name FROM customers WHERE id >= p_id ORDER BY id;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET v_done = 1;
  CREATE TEMPORARY TABLE IF NOT EXISTS walk (id INT PRIMARY KEY, label VARCHAR(200), depth TINYINT DEFAULT 0);
  TRUNCATE TABLE walk;
  OPEN cur;
  REPEAT
    FETCH cur INTO v_id, v_name;
    IF NOT v_done THEN INSERT INTO walk VALUES (v_id, CONCAT(REPEAT('-', v_id MOD 3), v_name), v_id DIV 2); END IF;
  UNTIL v_done END REPEAT;
  CLOSE cur;
  SELECT w.*, (SELECT COUNT(*) FROM orders o WHERE o.customer_id = w.id) AS n FROM walk w WHERE label REGEXP '^-' OR label LIKE '%a\_b%';
END//
DELIMITER ;
CREATE VIEW v_cust AS SELECT `c`.`id` AS `id`, concat(`c`.`name`, ' <', `c`.`email`, '>') AS `label`, (`c`.`credit` > 0) AS `has_credit`, json_unquote(json_extract(`c`.`prefs`, '$.lang')) AS `lang`, date_add(`c`.`last_seen`, interval 1 month) AS nxt, if(isnull(`c`.`deleted_at`), 1, 0) AS live, cast(`c`.`credit` as signed) AS whole, `c`.`credit` DIV 10 AS tens, md5(`c`.`email`) h FROM `customers` `c` WHERE `c`.`born` BETWEEN '1950-01-01' AND CURDATE() AND `c`.`country` IN ('DE','FR') XOR `c`.`credit` = 0;
CREATE VIEW v_first AS SELECT customer_id, MIN(placed) f, SUBSTRING_INDEX(GROUP_CONCAT(status ORDER BY placed DESC), ',', 1) AS latest, WEEKDAY(MIN(placed)) wd, YEARWEEK(MAX(placed), 3) yw, ROUND(AVG(total), 2) av, STDDEV_POP(total) sd, HEX(MAX(id)) hx, CONV(MAX(id), 10, 16) c16 FROM orders GROUP BY customer_id;
