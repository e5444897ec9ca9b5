CREATE OR REPLACE PACKAGE pkg_invoice AS
  -- Invoices from services rendered.

  FUNCTION create_invoice(p_call_id IN NUMBER) RETURN NUMBER;

  PROCEDURE add_line(
    p_invoice_id IN NUMBER,
    p_service    IN VARCHAR2,
    p_quantity   IN NUMBER,
    p_price      IN NUMBER
  );

  PROCEDURE recompute(p_invoice_id IN NUMBER);

  PROCEDURE issue(p_invoice_id IN NUMBER);

  PROCEDURE book_payment(p_invoice_id IN NUMBER, p_amount IN NUMBER, p_paid_on IN DATE DEFAULT TRUNC(SYSDATE));

  FUNCTION amount_open(p_invoice_id IN NUMBER) RETURN NUMBER;

  FUNCTION in_words(p_amount IN NUMBER) RETURN VARCHAR2;
END pkg_invoice;
/
