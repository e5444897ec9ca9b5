# Changes of the 2024 season, applied by hand on 2 February.
USE yard;
SET NAMES utf8mb4;
SET @OLD_CHECKS := @@foreign_key_checks, foreign_key_checks = 0;

ALTER TABLE boat
  ADD COLUMN engine_hours DECIMAL(8,1) UNSIGNED NULL DEFAULT NULL COMMENT 'read at every lift' AFTER weight_t,
  ADD COLUMN details JSON NULL,
  ADD INDEX ix_boat_wishes (wishes_lift, weight_t DESC),
  MODIFY COLUMN boat_name VARCHAR(80) CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci NOT NULL,
  CHANGE registration reg_no VARCHAR(24) NULL,
  DROP COLUMN old_number,
  ALGORITHM=INPLACE, LOCK=NONE;

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
