-- What the accounts department looks at.

CREATE OR REPLACE VIEW v_open_invoices AS
SELECT i.invoice_id,
       i.invoice_no,
       a.name AS agent_name,
       i.issued_on,
       i.due_on,
       i.net_amount + i.vat_amount - i.paid_amount AS open_amount,
       TRUNC(SYSDATE) - i.due_on AS days_overdue
  FROM invoices i, agents a
 WHERE a.agent_id = i.agent_id
   AND i.status = 'ISSUED';

CREATE OR REPLACE VIEW v_agent_balance AS
SELECT a.agent_id,
       a.short_name,
       a.credit_limit,
       NVL(SUM(i.net_amount + i.vat_amount - i.paid_amount), 0) AS balance,
       CASE WHEN NVL(SUM(i.net_amount + i.vat_amount - i.paid_amount), 0) > a.credit_limit THEN 'OVER' ELSE 'OK' END AS state
  FROM agents a, invoices i
 WHERE i.agent_id(+) = a.agent_id
   AND i.status(+) = 'ISSUED'
 GROUP BY a.agent_id, a.short_name, a.credit_limit;

CREATE OR REPLACE VIEW v_invoice_totals AS
SELECT l.invoice_id,
       COUNT(*) AS line_count,
       SUM(l.net_amount) AS net_amount,
       SUM(ROUND(l.net_amount * l.vat_rate / 100, 2)) AS vat_amount
  FROM invoice_lines l
 GROUP BY l.invoice_id;

CREATE OR REPLACE VIEW v_services_by_agent AS
SELECT i.agent_id,
       LISTAGG(DISTINCT l.service_code, ', ') WITHIN GROUP (ORDER BY l.service_code) AS services
  FROM invoices i
  JOIN invoice_lines l ON l.invoice_id = i.invoice_id
 GROUP BY i.agent_id;

CREATE OR REPLACE VIEW v_current_tariffs AS
SELECT t.tariff_id,
       t.service_code,
       s.name AS service_name,
       t.tariff_class,
       t.unit_price,
       t.minimum_amount
  FROM tariffs t
  JOIN services s ON s.service_code = t.service_code
 WHERE t.valid_from <= SYSDATE
   AND NVL(t.valid_until, SYSDATE + 1) > SYSDATE
   AND s.is_active = 'Y';

CREATE OR REPLACE VIEW v_reminders_due AS
SELECT i.invoice_id,
       i.invoice_no,
       i.reminder_level,
       GREATEST(i.due_on, NVL(i.issued_on, i.due_on)) + 14 * (i.reminder_level + 1) AS next_reminder
  FROM invoices i
 WHERE i.status = 'ISSUED'
   AND i.reminder_level < 3
   AND ADD_MONTHS(i.due_on, 6) > SYSDATE;

CREATE OR REPLACE VIEW v_payment_months AS
SELECT TRUNC(p.paid_on, 'MM') AS month,
       COUNT(*) AS payments,
       SUM(p.amount) AS amount
  FROM payments p
 GROUP BY TRUNC(p.paid_on, 'MM');

CREATE OR REPLACE VIEW v_customs_ships AS
SELECT c.ship_no, c.ship_name, v.vessel_id
  FROM ships@customs_link c, vessels v
 WHERE v.imo_number = c.ship_no;
