CREATE OR REPLACE PACKAGE BODY pkg_invoice AS

  PROCEDURE recompute(p_invoice_id IN NUMBER) IS
  BEGIN
    UPDATE invoices i
       SET (i.net_amount, i.vat_amount) =
           (SELECT NVL(SUM(l.net_amount), 0), NVL(SUM(ROUND(l.net_amount * l.vat_rate / 100, 2)), 0)
              FROM invoice_lines l
             WHERE l.invoice_id = i.invoice_id)
     WHERE i.invoice_id = p_invoice_id;
  END recompute;

  PROCEDURE add_line(
    p_invoice_id IN NUMBER,
    p_service    IN VARCHAR2,
    p_quantity   IN NUMBER,
    p_price      IN NUMBER
  ) IS
    l_line_no  invoice_lines.line_no%TYPE;
    l_name     services.name%TYPE;
    l_vat      services.vat_rate%TYPE;
    l_agent    invoices.agent_id%TYPE;
    l_discount NUMBER(5,2) := 0;
  BEGIN
    SELECT NVL(MAX(line_no), 0) + 1 INTO l_line_no FROM invoice_lines WHERE invoice_id = p_invoice_id;
    SELECT name, vat_rate INTO l_name, l_vat FROM services WHERE service_code = p_service;
    SELECT agent_id INTO l_agent FROM invoices WHERE invoice_id = p_invoice_id;
    SELECT NVL(MAX(percent_off), 0) INTO l_discount FROM discounts WHERE agent_id = l_agent AND valid_until > SYSDATE;
    INSERT INTO invoice_lines (
      line_id, invoice_id, line_no, service_code, description, quantity, unit_price, discount_pct, net_amount, vat_rate)
    VALUES (
      invoice_line_seq.NEXTVAL, p_invoice_id, l_line_no, p_service, l_name, p_quantity, p_price, l_discount,
      ROUND(p_quantity * p_price * (100 - l_discount) / 100, 2), l_vat);
  END add_line;

  FUNCTION create_invoice(p_call_id IN NUMBER) RETURN NUMBER IS
    l_invoice_id invoices.invoice_id%TYPE;
    l_agent_id   port_calls.agent_id%TYPE;
  BEGIN
    SELECT agent_id INTO l_agent_id FROM port_calls WHERE call_id = p_call_id;
    SELECT invoice_seq.NEXTVAL INTO l_invoice_id FROM dual;
    INSERT INTO invoices (invoice_id, agent_id, call_id) VALUES (l_invoice_id, l_agent_id, p_call_id);

    FOR r IN (SELECT o.direction, COUNT(*) AS moves, SUM(o.waiting_minutes) AS waiting
                FROM pilot_orders o
               WHERE o.call_id = p_call_id AND o.status = 'DONE'
               GROUP BY o.direction) LOOP
      add_line(l_invoice_id, 'PILOT', r.moves, 450);
      IF r.waiting > 30 THEN
        add_line(l_invoice_id, 'PILOT', CEIL(r.waiting / 30), 75);
      END IF;
    END LOOP;

    FOR r IN (SELECT SUM(m.lines_handled) AS line_count FROM berth_movements m WHERE m.call_id = p_call_id) LOOP
      IF r.line_count > 0 THEN
        add_line(l_invoice_id, 'MOOR', r.line_count, 38.5);
      END IF;
    END LOOP;

    recompute(l_invoice_id);
    RETURN l_invoice_id;
  END create_invoice;

  PROCEDURE issue(p_invoice_id IN NUMBER) IS
    l_days agents.payment_days%TYPE;
  BEGIN
    SELECT a.payment_days
      INTO l_days
      FROM agents a, invoices i
     WHERE i.invoice_id = p_invoice_id
       AND a.agent_id = i.agent_id;
    UPDATE invoices
       SET status = 'ISSUED',
           invoice_no = next_invoice_no,
           issued_on = TRUNC(SYSDATE),
           due_on = TRUNC(SYSDATE) + l_days
     WHERE invoice_id = p_invoice_id
       AND status = 'DRAFT';
    IF SQL%ROWCOUNT <> 1 THEN
      RAISE_APPLICATION_ERROR(-20200, 'Invoice ' || p_invoice_id || ' is no draft');
    END IF;
  END issue;

  PROCEDURE book_payment(p_invoice_id IN NUMBER, p_amount IN NUMBER, p_paid_on IN DATE DEFAULT TRUNC(SYSDATE)) IS
  BEGIN
    INSERT INTO payments (payment_id, invoice_id, paid_on, amount)
    VALUES (payment_seq.NEXTVAL, p_invoice_id, p_paid_on, p_amount);
    UPDATE invoices
       SET paid_amount = paid_amount + p_amount,
           status = CASE WHEN paid_amount + p_amount >= net_amount + vat_amount THEN 'PAID' ELSE status END
     WHERE invoice_id = p_invoice_id;
  EXCEPTION
    WHEN DUP_VAL_ON_INDEX THEN
      RAISE_APPLICATION_ERROR(-20201, 'Payment is booked already');
    WHEN OTHERS THEN
      log_error('PKG_INVOICE', SQLCODE, SQLERRM, 'invoice ' || p_invoice_id);
      RAISE;
  END book_payment;

  FUNCTION amount_open(p_invoice_id IN NUMBER) RETURN NUMBER IS
    l_open NUMBER(14,2);
  BEGIN
    SELECT net_amount + vat_amount - paid_amount INTO l_open FROM invoices WHERE invoice_id = p_invoice_id;
    RETURN l_open;
  END amount_open;

  FUNCTION in_words(p_amount IN NUMBER) RETURN VARCHAR2 IS
  BEGIN
    RETURN TO_CHAR(TO_DATE(TRUNC(p_amount), 'J'), 'JSP');
  END in_words;

END pkg_invoice;
/
