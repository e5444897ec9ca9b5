-- Routines of PL/pgSQL that ask FOUND, count rows and take the first of several rows.
CREATE TABLE jetties (
  id int PRIMARY KEY,
  name varchar(40) NOT NULL,
  length numeric(6,2),
  taken boolean NOT NULL DEFAULT false
);
CREATE TABLE moves (
  id int PRIMARY KEY,
  jetty int,
  note varchar(200)
);

CREATE PROCEDURE take_jetty(p_id int) LANGUAGE plpgsql AS $$
BEGIN
  UPDATE jetties SET taken = true WHERE id = p_id AND NOT taken;
  IF NOT FOUND THEN
    RAISE EXCEPTION 'jetty % is taken', p_id;
  END IF;
  INSERT INTO moves (id, jetty, note) SELECT count(*) + 1, p_id, 'taken' FROM moves;
END $$;

CREATE FUNCTION jetty_name(p_id int) RETURNS text LANGUAGE plpgsql AS $$
DECLARE v_name text;
BEGIN
  SELECT name INTO v_name FROM jetties WHERE id = p_id;
  IF FOUND THEN
    RETURN v_name;
  END IF;
  RETURN 'none';
END $$;

CREATE FUNCTION last_taken() RETURNS text LANGUAGE plpgsql AS $$
DECLARE v_name text;
BEGIN
  SELECT name INTO v_name FROM jetties WHERE taken ORDER BY id DESC;
  IF NOT FOUND THEN
    RETURN 'none';
  END IF;
  RETURN v_name;
END $$;

CREATE PROCEDURE release_all(INOUT p_count int) LANGUAGE plpgsql AS $$
DECLARE n int;
BEGIN
  UPDATE jetties SET taken = false WHERE taken;
  GET DIAGNOSTICS n = ROW_COUNT;
  p_count := n;
  DELETE FROM moves WHERE jetty IS NULL;
  IF FOUND AND n > 0 THEN
    p_count := p_count + 100;
  ELSIF FOUND THEN
    p_count := 50;
  END IF;
END $$;

CREATE PROCEDURE fill_up(p_times int, INOUT p_told text) LANGUAGE plpgsql AS $$
DECLARE i int := 0;
BEGIN
  p_told := '';
  IF FOUND THEN
    p_told := 'early';
  END IF;
  WHILE i < p_times LOOP
    i := i + 1;
    UPDATE jetties SET length = length + 1 WHERE id = i;
    CONTINUE WHEN NOT FOUND;
    p_told := p_told || i || ';';
  END LOOP;
END $$;

CREATE FUNCTION share(p_length numeric(6,2), p_parts int) RETURNS numeric(8,1) LANGUAGE plpgsql AS $$
BEGIN
  RETURN p_length * 1.255 * p_parts;
END $$;

CREATE FUNCTION label(p_name varchar(3), p_id int) RETURNS varchar(5) LANGUAGE plpgsql AS $$
BEGIN
  RETURN p_name || '-' || p_id;
END $$;

CREATE FUNCTION all_names() RETURNS text LANGUAGE plpgsql AS $$
DECLARE
  r jetties%ROWTYPE;
  v_all text := '';
BEGIN
  FOR r IN SELECT * FROM jetties ORDER BY name DESC LOOP
    CONTINUE WHEN r.id = 2;
    v_all := v_all || r.name || ';';
  END LOOP;
  RETURN v_all;
END $$;

CREATE PROCEDURE note_lengths(p_least numeric) LANGUAGE plpgsql AS $$
DECLARE r record;
BEGIN
  FOR r IN SELECT id, coalesce(length, 0) * 2 AS doubled FROM jetties WHERE coalesce(length, 0) >= p_least LOOP
    INSERT INTO moves (id, jetty, note) VALUES (100 + r.id, r.id, 'doubled ' || r.doubled);
  END LOOP;
END $$;

CREATE FUNCTION countdown(p_from int, p_to int) RETURNS text LANGUAGE plpgsql AS $$
DECLARE
  i int;
  v_told text := '';
BEGIN
  FOR i IN REVERSE p_from..p_to BY 2 LOOP
    v_told := v_told || i || ';';
  END LOOP;
  RETURN v_told;
END $$;

CREATE PROCEDURE put_jetty(p_id int, p_name varchar) LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO jetties (id, name) VALUES (p_id, p_name);
EXCEPTION
  WHEN unique_violation THEN
    UPDATE jetties SET name = p_name WHERE id = p_id;
END $$;

CREATE FUNCTION labelled(p_name varchar, p_n int) RETURNS varchar LANGUAGE plpgsql AS $$
BEGIN
  RETURN format('%s: %s%% of a\b', p_name, p_n);
END $$;

-- As older scripts write them: bodies in quotes, parameters by place.
CREATE FUNCTION length_of(int) RETURNS numeric AS '
  SELECT coalesce(length, 0) FROM jetties WHERE id = $1;
' LANGUAGE 'sql';

CREATE OR REPLACE FUNCTION tagged(int, text) RETURNS text AS '
DECLARE
  p_id ALIAS FOR $1;
  v_name text;
BEGIN
  -- It''s the name, or nothing.
  SELECT name INTO v_name FROM jetties WHERE id = p_id;
  RETURN coalesce(v_name, ''nothing'') || '':'' || $2;
END;
' LANGUAGE plpgsql;

CREATE FUNCTION rename_jetty(p_id int, p_name varchar) RETURNS void LANGUAGE plpgsql AS $$
BEGIN
  PERFORM 1 FROM jetties WHERE id = p_id AND name <> p_name;
  IF NOT FOUND THEN
    RETURN;
  END IF;
  UPDATE jetties SET name = p_name WHERE id = p_id;
END $$;

CREATE PROCEDURE rename_both(p_one int, p_other int) LANGUAGE plpgsql AS $$
BEGIN
  PERFORM rename_jetty(p_one, 'one');
  PERFORM rename_jetty(p_other, 'other');
  PERFORM length_of(p_one);
END $$;

CREATE FUNCTION jetties_from(p_least int) RETURNS TABLE (id int, name varchar) LANGUAGE sql AS $$
  SELECT id, name FROM jetties WHERE coalesce(length, 0) >= p_least
$$;
CREATE FUNCTION all_jetties() RETURNS SETOF jetties LANGUAGE sql AS 'SELECT * FROM jetties';
CREATE VIEW v_long AS SELECT f.id, f.name, j.name AS again FROM jetties_from(7) f JOIN all_jetties() j ON j.id = f.id;
CREATE FUNCTION longest() RETURNS numeric LANGUAGE sql RETURN (SELECT max(length) FROM jetties);

CREATE PROCEDURE lengthen(p_id int, INOUT p_length numeric) LANGUAGE plpgsql AS $$
DECLARE v_length numeric; v_name varchar;
BEGIN
  UPDATE jetties SET length = length * 2, name = name || '+' WHERE id = p_id RETURNING length, name INTO v_length, v_name;
  p_length := coalesce(v_length, -1) + length(coalesce(v_name, 'none'));
END $$;

CREATE PROCEDURE break_up(p_id int, INOUT p_name text) LANGUAGE plpgsql AS $$
BEGIN
  DELETE FROM jetties WHERE id = p_id AND length > 5 RETURNING name INTO p_name;
END $$;
