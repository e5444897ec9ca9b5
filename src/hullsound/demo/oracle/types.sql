-- Types of the schema: an address, a position, and lists that functions hand around.
CREATE OR REPLACE TYPE address_t AS OBJECT (
  street    VARCHAR2(80),
  town      VARCHAR2(60),
  postcode  VARCHAR2(12),
  country   CHAR(2)
);
/

CREATE OR REPLACE TYPE position_t AS OBJECT (
  latitude   NUMBER(9,6),
  longitude  NUMBER(9,6),
  MEMBER FUNCTION distance_to(p_other position_t) RETURN NUMBER
);
/

CREATE OR REPLACE TYPE BODY position_t AS
  MEMBER FUNCTION distance_to(p_other position_t) RETURN NUMBER IS
  BEGIN
    RETURN SQRT(POWER(latitude - p_other.latitude, 2) + POWER(longitude - p_other.longitude, 2)) * 60;
  END distance_to;
END;
/

CREATE OR REPLACE TYPE id_list_t AS TABLE OF NUMBER(10);
/

CREATE OR REPLACE TYPE name_list_t AS VARRAY(50) OF VARCHAR2(80);
/
