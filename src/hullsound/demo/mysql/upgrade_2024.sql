# Changes of the 2024 season, applied by hand on 2 February.
USE yard;
SET NAMES utf8mb4;
SET @OLD_CHECKS := @@foreign_key_checks, foreign_key_checks = 0;

ALTER TABLE boat
  ADD COLUMN engine_hours DECIMAL(8,1) UNSIGNED NULL DEFAULT NULL COMMENT 'read at every lift' AFTER weight_t,
  ADD COLUMN details JSON NULL,
  ADD INDEX ix_boat_wishes (wishes_lift, weight_t DESC),
  MODIFY COLUMN boat_name VARCHAR(80) CHARACTER SET utf8mb4 COLLATE utf8mb4_0900_ai_ci NOT NULL,
  CHANGE registration reg_no VARCHAR(24) NULL,
  DROP COLUMN old_number,
  ALGORITHM=INPLACE, LOCK=NONE;

-- The triggers of boats name the column that has another name now.
DELIMITER ;;
DROP TRIGGER IF EXISTS boat_insert;;
CREATE TRIGGER boat_insert AFTER INSERT ON boat FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('boat', NEW.boat_id, 'I', NULL, JSON_OBJECT('customer_id', NEW.customer_id, 'boat_name', NEW.boat_name, 'reg_no', NEW.reg_no), CURRENT_USER(), NOW(6));
END;;
DROP TRIGGER IF EXISTS boat_update;;
CREATE TRIGGER boat_update AFTER UPDATE ON boat FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('boat', NEW.boat_id, 'U', JSON_OBJECT('customer_id', OLD.customer_id, 'boat_name', OLD.boat_name, 'reg_no', OLD.reg_no), JSON_OBJECT('customer_id', NEW.customer_id, 'boat_name', NEW.boat_name, 'reg_no', NEW.reg_no), CURRENT_USER(), NOW(6));
END;;
DROP TRIGGER IF EXISTS boat_delete;;
CREATE TRIGGER boat_delete AFTER DELETE ON boat FOR EACH ROW BEGIN
  INSERT INTO audit_trail (table_name, row_key, action, before_image, after_image, user_name, at)
  VALUES ('boat', OLD.boat_id, 'D', JSON_OBJECT('customer_id', OLD.customer_id, 'boat_name', OLD.boat_name, 'reg_no', OLD.reg_no), NULL, CURRENT_USER(), NOW(6));
END;;
DELIMITER ;

ALTER TABLE part ADD FULLTEXT INDEX ft_part (part_name, remark), ADD UNIQUE KEY uk_part_ean (ean);
ALTER TABLE part ADD COLUMN name_slug VARCHAR(200) GENERATED ALWAYS AS (LOWER(REPLACE(part_name, ' ', '-'))) STORED;
ALTER TABLE time_sheet ADD CONSTRAINT ck_time_sheet_hours CHECK (hours > 0 AND hours <= 16);
ALTER TABLE lay_up ADD CONSTRAINT fk_lay_up_berth FOREIGN KEY (berth_id) REFERENCES berth (berth_id) ON DELETE RESTRICT ON UPDATE CASCADE;
ALTER TABLE movement PARTITION BY RANGE (YEAR(moved_at)) (
  PARTITION p2022 VALUES LESS THAN (2023),
  PARTITION p2023 VALUES LESS THAN (2024) ENGINE = InnoDB,
  PARTITION pmax VALUES LESS THAN MAXVALUE
);
CREATE UNIQUE INDEX uk_lift ON lift (hoist_id, planned_at) USING BTREE COMMENT 'one boat at a time';
CREATE INDEX ix_invoice_due ON invoice (due_on, (amount * 1.2)) INVISIBLE;
RENAME TABLE old_notice TO notice_2019, old_price TO price_2019;

INSERT INTO setting (name, value) VALUES ('vat', '0.20'), ('season_start', '2024-04-01')
  AS fresh ON DUPLICATE KEY UPDATE value = fresh.value;
UPDATE part, part_group g SET part.price = ROUND(part.price * (1 + g.rise_percent / 100), 2)
 WHERE part.part_group = g.part_group AND g.rise_percent <> 0;
DELETE FROM part_supplier USING part_supplier INNER JOIN supplier ON supplier.supplier_id = part_supplier.supplier_id
 WHERE supplier.closed_on IS NOT NULL;
LOAD DATA LOCAL INFILE '/var/lib/mysql-files/prices.csv' REPLACE INTO TABLE supplier_price CHARACTER SET latin1
  FIELDS TERMINATED BY ',' ENCLOSED BY '"' LINES TERMINATED BY '\n' IGNORE 1 LINES (part_code, @price) SET price = @price / 100;
LOCK TABLES invoice WRITE, customer READ;
UPDATE invoice SET is_paid = 1 WHERE paid_on <> '0000-00-00' AND amount <= paid;
UNLOCK TABLES;
ANALYZE TABLE part, boat;
CREATE USER IF NOT EXISTS 'yard_read'@'%' IDENTIFIED BY 'change-me';
GRANT SELECT, SHOW VIEW ON `yard`.* TO 'yard_read'@'%';
GRANT EXECUTE ON PROCEDURE yard.month_report TO 'yard_read'@'%' WITH GRANT OPTION;
FLUSH PRIVILEGES;
SET foreign_key_checks = @OLD_CHECKS;
