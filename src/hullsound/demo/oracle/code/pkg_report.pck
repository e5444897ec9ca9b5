-- Figures for the monthly board paper.
CREATE OR REPLACE PACKAGE pkg_report IS
  PROCEDURE month_figures(p_month IN DATE, p_calls OUT NUMBER, p_tonnage OUT NUMBER, p_revenue OUT NUMBER);
  FUNCTION top_agents(p_year IN NUMBER, p_count IN NUMBER DEFAULT 10) RETURN SYS_REFCURSOR;
  FUNCTION share_of(p_part IN NUMBER, p_whole IN NUMBER) RETURN NUMBER;
  FUNCTION quarter_label(p_date IN DATE) RETURN VARCHAR2;
  PROCEDURE print_summary(p_month IN DATE);
END pkg_report;
/

CREATE OR REPLACE PACKAGE BODY pkg_report IS

  PROCEDURE month_figures(p_month IN DATE, p_calls OUT NUMBER, p_tonnage OUT NUMBER, p_revenue OUT NUMBER) IS
  BEGIN
    SELECT COUNT(*), NVL(SUM(v.gross_tonnage), 0)
      INTO p_calls, p_tonnage
      FROM port_calls c, vessels v
     WHERE v.vessel_id = c.vessel_id
       AND c.arrived_at >= TRUNC(p_month, 'MM')
       AND c.arrived_at < ADD_MONTHS(TRUNC(p_month, 'MM'), 1);

    SELECT NVL(SUM(i.net_amount), 0)
      INTO p_revenue
      FROM invoices i
     WHERE i.status IN ('ISSUED', 'PAID')
       AND TRUNC(i.issued_on, 'MM') = TRUNC(p_month, 'MM');
  END month_figures;

  FUNCTION top_agents(p_year IN NUMBER, p_count IN NUMBER DEFAULT 10) RETURN SYS_REFCURSOR IS
    l_result SYS_REFCURSOR;
  BEGIN
    OPEN l_result FOR
      SELECT a.short_name, SUM(i.net_amount) AS turnover
        FROM agents a, invoices i
       WHERE i.agent_id = a.agent_id
         AND EXTRACT(YEAR FROM i.issued_on) = p_year
       GROUP BY a.short_name
       ORDER BY SUM(i.net_amount) DESC
       FETCH FIRST 10 ROWS ONLY;
    RETURN l_result;
  END top_agents;

  FUNCTION share_of(p_part IN NUMBER, p_whole IN NUMBER) RETURN NUMBER IS
  BEGIN
    RETURN ROUND(100 * p_part / p_whole, 1);
  EXCEPTION
    WHEN ZERO_DIVIDE THEN
      RETURN 0;
  END share_of;

  FUNCTION quarter_label(p_date IN DATE) RETURN VARCHAR2 IS
  BEGIN
    RETURN 'Q' || TO_CHAR(p_date, 'Q') || ' ' || TO_CHAR(p_date, 'YYYY');
  END quarter_label;

  PROCEDURE print_summary(p_month IN DATE) IS
    l_calls   NUMBER;
    l_tonnage NUMBER;
    l_revenue NUMBER;
  BEGIN
    month_figures(p_month, l_calls, l_tonnage, l_revenue);
    DBMS_OUTPUT.PUT_LINE('Month   ' || TO_CHAR(p_month, 'MM/YYYY'));
    DBMS_OUTPUT.PUT_LINE('Calls   ' || TO_CHAR(l_calls));
    DBMS_OUTPUT.PUT_LINE('Tonnage ' || TO_CHAR(l_tonnage, '999,999,999'));
    DBMS_OUTPUT.PUT_LINE('Revenue ' || TO_CHAR(l_revenue, 'FM999,999,990.00'));
  END print_summary;

END pkg_report;
/
