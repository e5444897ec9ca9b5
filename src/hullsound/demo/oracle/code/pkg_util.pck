-- Small helpers that everything uses.
CREATE OR REPLACE PACKAGE pkg_util IS

  -- First of the month of a date
  FUNCTION month_start(p_date IN DATE) RETURN DATE;

  -- Last day of the month of a date, at midnight
  FUNCTION month_end(p_date IN DATE) RETURN DATE;

  -- A text cut to a length, with dots where something is missing
  FUNCTION shorten(p_text IN VARCHAR2, p_length IN NUMBER DEFAULT 40) RETURN VARCHAR2;

  -- Y or N of a condition
  FUNCTION yes_no(p_condition IN BOOLEAN) RETURN VARCHAR2;

  -- Working days between two dates, both included
  FUNCTION working_days(p_from IN DATE, p_until IN DATE) RETURN NUMBER;

  -- The container number without blanks and dashes
  FUNCTION clean_container(p_number IN VARCHAR2) RETURN VARCHAR2;

END pkg_util;
/

CREATE OR REPLACE PACKAGE BODY pkg_util IS

  FUNCTION month_start(p_date IN DATE) RETURN DATE IS
  BEGIN
    RETURN TRUNC(p_date, 'MM');
  END month_start;

  FUNCTION month_end(p_date IN DATE) RETURN DATE IS
  BEGIN
    RETURN TRUNC(LAST_DAY(p_date));
  END month_end;

  FUNCTION shorten(p_text IN VARCHAR2, p_length IN NUMBER DEFAULT 40) RETURN VARCHAR2 IS
  BEGIN
    IF LENGTH(p_text) <= p_length THEN
      RETURN p_text;
    END IF;
    RETURN SUBSTR(p_text, 1, p_length - 3) || '...';
  END shorten;

  FUNCTION yes_no(p_condition IN BOOLEAN) RETURN VARCHAR2 IS
  BEGIN
    IF p_condition THEN
      RETURN 'Y';
    ELSE
      RETURN 'N';
    END IF;
  END yes_no;

  FUNCTION working_days(p_from IN DATE, p_until IN DATE) RETURN NUMBER IS
    l_day   DATE := TRUNC(p_from);
    l_count NUMBER(6) := 0;
  BEGIN
    WHILE l_day <= TRUNC(p_until) LOOP
      IF TO_CHAR(l_day, 'D') NOT IN ('1', '7') THEN
        l_count := l_count + 1;
      END IF;
      l_day := l_day + 1;
    END LOOP;
    RETURN l_count;
  END working_days;

  FUNCTION clean_container(p_number IN VARCHAR2) RETURN VARCHAR2 IS
  BEGIN
    RETURN UPPER(REGEXP_REPLACE(p_number, '[^A-Za-z0-9]', ''));
  END clean_container;

END pkg_util;
/
