-- Billing of the yard: monthly places, work orders, reminders.
USE yard;

CREATE TABLE IF NOT EXISTS billing_run (
  run_id      INT UNSIGNED NOT NULL AUTO_INCREMENT,
  period      CHAR(7) NOT NULL,
  started_at  DATETIME NOT NULL DEFAULT NOW(),
  ended_at    DATETIME NULL ON UPDATE CURRENT_TIMESTAMP,
  invoices    INT UNSIGNED NOT NULL DEFAULT '0',
  amount      DECIMAL(14,2) NOT NULL DEFAULT 0,
  state       ENUM('running','done','failed') NOT NULL DEFAULT 'running',
  PRIMARY KEY (run_id),
  UNIQUE KEY uk_billing_period (period)
) ENGINE = InnoDB, CHARACTER SET = utf8mb4, COMMENT = 'One row for each month billed';

CREATE TABLE reminder LIKE notice;
ALTER TABLE reminder ADD invoice_no INT UNSIGNED NOT NULL FIRST, ADD level TINYINT NOT NULL DEFAULT 1;

DELIMITER //

CREATE PROCEDURE bill_places(IN p_period CHAR(7))
BEGIN
  DECLARE v_run INT UNSIGNED;
  DECLARE v_first DATE;
  DECLARE v_last DATE;
  DECLARE CONTINUE HANDLER FOR SQLWARNING BEGIN END;
  DECLARE EXIT HANDLER FOR SQLEXCEPTION, SQLSTATE '45010'
  BEGIN
    ROLLBACK;
    UPDATE billing_run SET state = 'failed' WHERE run_id = v_run;
  END;

  SET v_first = CONCAT(p_period, '-01');
  SET v_last = LAST_DAY(v_first);
  INSERT INTO billing_run (period) VALUES (p_period);
  SET v_run = LAST_INSERT_ID();

  START TRANSACTION WITH CONSISTENT SNAPSHOT;
  INSERT INTO invoice (customer_id, issued_on, due_on, amount)
  SELECT b.customer_id, CURDATE(), CURDATE() + INTERVAL 14 DAY,
         ROUND(SUM(l.price_month * (DATEDIFF(LEAST(IFNULL(DATE(l.launched_at), v_last), v_last),
                                             GREATEST(DATE(l.lifted_at), v_first)) + 1) / DAY(v_last)), 2)
    FROM lay_up l
    JOIN boat b ON b.boat_id = l.boat_id
   WHERE l.lifted_at <= v_last AND (l.launched_at IS NULL OR l.launched_at >= v_first)
   GROUP BY b.customer_id
  HAVING SUM(l.price_month) > 0;
  UPDATE billing_run SET invoices = ROW_COUNT(),
         amount = (SELECT IFNULL(SUM(amount), 0) FROM invoice WHERE issued_on = CURDATE() AND order_id IS NULL),
         state = 'done'
   WHERE run_id = v_run;
  COMMIT AND NO CHAIN;
END //

CREATE PROCEDURE bill_orders(IN p_limit INT)
main: BEGIN
  DECLARE v_order, v_customer INT UNSIGNED;
  DECLARE v_total DECIMAL(12, 2);
  DECLARE v_end BOOLEAN DEFAULT FALSE;
  DECLARE v_count INT DEFAULT 0;
  DECLARE c CURSOR FOR SELECT order_id, customer_id, total FROM work_order WHERE status = 'closed' ORDER BY closed_at;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET v_end = TRUE;

  IF p_limit IS NULL OR p_limit < 1 THEN LEAVE main; END IF;
  OPEN c;
  REPEAT
    FETCH c INTO v_order, v_customer, v_total;
    IF NOT v_end THEN
      BEGIN
        DECLARE CONTINUE HANDLER FOR 1062 SET @dup = @dup + 1;
        INSERT INTO invoice (customer_id, order_id, issued_on, due_on, amount)
        VALUES (v_customer, v_order, CURDATE(), ADDDATE(CURDATE(), 30), v_total);
        UPDATE work_order SET status = 'invoiced' WHERE order_id = v_order;
      END;
      SET v_count = v_count + 1;
    END IF;
  UNTIL v_end OR v_count >= p_limit END REPEAT;
  CLOSE c;
  SELECT v_count AS invoices;
END main //

CREATE PROCEDURE remind()
BEGIN
  INSERT INTO reminder (invoice_no, notice_text, created_at, level)
  SELECT i.invoice_no,
         CONCAT('Invoice ', LPAD(i.invoice_no, 6, '0'), ' of ', DATE_FORMAT(i.issued_on, '%e %M %Y'), ' over ',
                FORMAT(i.amount - i.paid, 2, 'en_GB'), ' is ', DATEDIFF(NOW(), i.due_on), ' days late.'),
         NOW(), COALESCE((SELECT MAX(r.level) + 1 FROM reminder r WHERE r.invoice_no = i.invoice_no), 1)
    FROM invoice i
   WHERE i.is_paid = 0 AND i.due_on BETWEEN '2000-01-01' AND CURDATE() - INTERVAL 7 DAY
     AND NOT EXISTS (SELECT 1 FROM reminder r WHERE r.invoice_no = i.invoice_no AND r.created_at > NOW() - INTERVAL 10 DAY);
  UPDATE customer c SET c.is_blocked = 1
   WHERE c.customer_id IN (SELECT i.customer_id FROM invoice i JOIN reminder r ON r.invoice_no = i.invoice_no WHERE r.level >= 3 AND i.is_paid = 0);
END //

CREATE FUNCTION balance_of(p_customer INT UNSIGNED) RETURNS DECIMAL(12,2)
READS SQL DATA
BEGIN
  DECLARE v DECIMAL(12,2);
  SELECT SUM(amount - paid) INTO v FROM invoice WHERE customer_id = p_customer AND NOT is_paid;
  RETURN IF(v IS NULL, 0, v);
END //

CREATE TRIGGER invoice_paid BEFORE UPDATE ON invoice FOR EACH ROW
BEGIN
  IF NEW.paid >= NEW.amount AND OLD.is_paid = 0 THEN
    SET NEW.is_paid = 1, NEW.paid_on = CURDATE();
  ELSEIF NEW.paid < 0 THEN
    SIGNAL SQLSTATE '45011' SET MESSAGE_TEXT = 'A payment cannot be negative';
  END IF;
END //

CREATE EVENT IF NOT EXISTS billing_of_places
  ON SCHEDULE EVERY 1 MONTH STARTS '2024-02-01 03:00:00' ENDS '2034-01-01 00:00:00'
  DO CALL bill_places(DATE_FORMAT(CURDATE() - INTERVAL 1 MONTH, '%Y-%m')) //

DELIMITER ;
