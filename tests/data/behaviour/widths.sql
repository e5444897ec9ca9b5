CREATE TABLE slips (id int PRIMARY KEY, width numeric(7,2));
CREATE TABLE notes (id int, what varchar(40));
CREATE FUNCTION note_rows() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO notes SELECT id, 'new ' || TG_OP FROM fresh WHERE width > 3;
  RETURN NULL;
END $$;
CREATE TRIGGER slips_ai AFTER INSERT ON slips REFERENCING NEW TABLE AS fresh FOR EACH STATEMENT EXECUTE FUNCTION note_rows();
CREATE PROCEDURE widen(p_more numeric) LANGUAGE plpgsql AS $$
BEGIN
  CREATE TEMP TABLE narrow AS SELECT id, width FROM slips WHERE width < 5;
  UPDATE slips SET width = slips.width + p_more FROM narrow WHERE narrow.id = slips.id;
  DROP TABLE narrow;
END $$;
CREATE VIEW chosen AS SELECT id FROM slips WHERE (id, width) IN (VALUES (1, 4.5), (2, 9.5));
