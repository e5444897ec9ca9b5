-- Cargo: dues by ton, dangerous goods, and what stands on the quays.

CREATE OR REPLACE FUNCTION cargo_dues(p_manifest_id IN NUMBER) RETURN NUMBER IS
  l_dues NUMBER(14,2);
BEGIN
  SELECT NVL(SUM(i.gross_tons * t.dues_per_ton), 0)
    INTO l_dues
    FROM manifest_items i
    JOIN cargo_types t ON t.cargo_code = i.cargo_code
   WHERE i.manifest_id = p_manifest_id;
  RETURN ROUND(l_dues, 2);
END cargo_dues;
/

CREATE OR REPLACE FUNCTION is_container(p_number IN VARCHAR2) RETURN NUMBER DETERMINISTIC IS
BEGIN
  IF p_number IS NULL OR LENGTH(p_number) <> 11 THEN
    RETURN 0;
  END IF;
  IF REGEXP_LIKE(p_number, '^[A-Z]{3}[UJZ][0-9]{7}$') THEN
    RETURN 1;
  END IF;
  RETURN 0;
END is_container;
/

CREATE OR REPLACE FUNCTION hazard_level(p_call_id IN NUMBER) RETURN VARCHAR2 IS
  l_worst VARCHAR2(6);
  l_tons  NUMBER(12,3);
BEGIN
  SELECT MAX(t.hazard_class), NVL(SUM(i.gross_tons), 0)
    INTO l_worst, l_tons
    FROM manifests m
    JOIN manifest_items i ON i.manifest_id = m.manifest_id
    JOIN cargo_types t ON t.cargo_code = i.cargo_code
   WHERE m.call_id = p_call_id
     AND t.is_dangerous = 'Y';
  RETURN CASE
           WHEN l_worst IS NULL THEN 'NONE'
           WHEN l_tons > 1000 THEN 'HIGH'
           WHEN SUBSTR(l_worst, 1, 1) IN ('1', '7') THEN 'HIGH'
           WHEN l_tons > 100 THEN 'MEDIUM'
           ELSE 'LOW'
         END;
END hazard_level;
/

CREATE OR REPLACE PROCEDURE complete_manifest(p_manifest_id IN NUMBER) IS
  l_tons  manifests.total_tons%TYPE;
  l_wrong NUMBER(6);
BEGIN
  SELECT COUNT(*)
    INTO l_wrong
    FROM manifest_items i
   WHERE i.manifest_id = p_manifest_id
     AND i.container_no IS NOT NULL
     AND is_container(i.container_no) = 0;
  IF l_wrong > 0 THEN
    RAISE_APPLICATION_ERROR(-20400, l_wrong || ' container numbers are wrong');
  END IF;

  SELECT NVL(SUM(gross_tons), 0) INTO l_tons FROM manifest_items WHERE manifest_id = p_manifest_id;
  UPDATE manifests
     SET total_tons = l_tons,
         is_complete = 'Y'
   WHERE manifest_id = p_manifest_id;
END complete_manifest;
/

CREATE OR REPLACE PROCEDURE move_stock(
  p_stock_id IN NUMBER,
  p_berth_id IN NUMBER,
  p_tons     IN NUMBER DEFAULT NULL
) IS
  l_tons  quay_stock.tons%TYPE;
  l_cargo quay_stock.cargo_code%TYPE;
BEGIN
  SELECT tons, cargo_code
    INTO l_tons, l_cargo
    FROM quay_stock
   WHERE stock_id = p_stock_id
     FOR UPDATE;
  IF p_tons IS NULL OR p_tons >= l_tons THEN
    UPDATE quay_stock SET berth_id = p_berth_id WHERE stock_id = p_stock_id;
  ELSE
    UPDATE quay_stock SET tons = tons - p_tons WHERE stock_id = p_stock_id;
    INSERT INTO quay_stock (stock_id, berth_id, cargo_code, tons)
    VALUES (movement_seq.NEXTVAL, p_berth_id, l_cargo, p_tons);
  END IF;
EXCEPTION
  WHEN NO_DATA_FOUND THEN
    RAISE_APPLICATION_ERROR(-20401, 'No stock ' || p_stock_id);
  WHEN TOO_MANY_ROWS THEN
    RAISE_APPLICATION_ERROR(-20402, 'Stock ' || p_stock_id || ' is not unique');
END move_stock;
/

CREATE OR REPLACE PROCEDURE age_stock(p_days IN NUMBER, p_count OUT NUMBER, p_oldest OUT DATE) IS
BEGIN
  SELECT COUNT(*), MIN(since)
    INTO p_count, p_oldest
    FROM quay_stock
   WHERE since < TRUNC(SYSDATE) - p_days;
END age_stock;
/

CREATE OR REPLACE FUNCTION berth_load(p_berth_id IN NUMBER, p_on IN DATE DEFAULT SYSDATE) RETURN NUMBER IS
  l_tons   NUMBER(14,3);
  l_length berths.length_m%TYPE;
BEGIN
  SELECT NVL(SUM(s.tons), 0)
    INTO l_tons
    FROM quay_stock s
   WHERE s.berth_id = p_berth_id
     AND s.since <= p_on;
  SELECT b.length_m
    INTO l_length
    FROM berths b
   WHERE b.berth_id = p_berth_id;
  RETURN ROUND(l_tons / NULLIF(l_length, 0), 3);
EXCEPTION
  WHEN NO_DATA_FOUND THEN
    RETURN 0;
END berth_load;
/

CREATE OR REPLACE PROCEDURE close_berth(
  p_berth_id IN NUMBER,
  p_from     IN DATE,
  p_until    IN DATE,
  p_reason   IN VARCHAR2
) IS
  l_calls NUMBER(6);
BEGIN
  IF p_until <= p_from THEN
    RAISE_APPLICATION_ERROR(-20410, 'The closure ends before it begins');
  END IF;
  SELECT COUNT(*)
    INTO l_calls
    FROM port_calls c
   WHERE c.berth_id = p_berth_id
     AND c.status IN ('ANNOUNCED', 'CONFIRMED')
     AND c.eta < p_until
     AND NVL(c.etd, c.eta + 1) > p_from;
  IF l_calls > 0 THEN
    RAISE_APPLICATION_ERROR(-20411, l_calls || ' calls are planned at the berth');
  END IF;
  INSERT INTO berth_closures (berth_id, closed_from, closed_until, reason)
  VALUES (p_berth_id, p_from, p_until, p_reason);
EXCEPTION
  WHEN DUP_VAL_ON_INDEX THEN
    UPDATE berth_closures
       SET closed_until = p_until,
           reason = p_reason
     WHERE berth_id = p_berth_id
       AND closed_from = p_from;
END close_berth;
/
