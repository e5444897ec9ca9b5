-- Rows with what years of use leave behind, for the yard system on a running server. One statement in a line.
SET SESSION sql_mode = ''
SET SESSION foreign_key_checks = 0
CREATE TABLE shift (shift_id INT UNSIGNED NOT NULL AUTO_INCREMENT, worker_id SMALLINT UNSIGNED NOT NULL, begins TIME NOT NULL, lasts TIME NOT NULL, is_paid BOOLEAN, badge BIGINT UNSIGNED, remark VARCHAR(80), PRIMARY KEY (shift_id))
CREATE TABLE badge_use (use_no INT NOT NULL PRIMARY KEY, badge BIGINT UNSIGNED NOT NULL, shift_id INT UNSIGNED)
INSERT INTO customer (name, town, mail, is_blocked, remark) VALUES ('Grøn & Co', 'Kestrel Bay', CONVERT(_binary 'grøn@yard.example' USING latin1), 0, ''), ('Hale ', 'Outer Quay', CONVERT(_binary 'hale@yard.example' USING latin1), 2, 'pays late ')
INSERT INTO boat (customer_id, boat_name, length_m, hull) SELECT customer_id, 'Petrel ', 9.50, 'plastic' FROM customer ORDER BY customer_id DESC LIMIT 1
INSERT INTO boat (customer_id, boat_name, length_m, hull, wishes_lift) VALUES (4000000, 'No Owner', 7.25, 'wood', '2024-00-00')
INSERT INTO shift (worker_id, begins, lasts, is_paid, badge, remark) VALUES (1, '06:00:00', '08:00:00', 1, 18446744073709551615, ''), (1, '14:00:00', '26:30:00', 0, 42, 'storm'), (2, '22:00:00', '-00:30:00', 3, 43, CONCAT('a', CHAR(0), 'b'))
INSERT INTO badge_use VALUES (1, 42, 1), (2, 43, 2), (3, 44, 99)
UPDATE hoist SET inspected_on = '0000-00-00' LIMIT 2
