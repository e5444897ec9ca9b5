-- sequence.arrival_seq: drafted
CREATE SEQUENCE arrival_seq AS bigint START WITH 1;

-- sequence.mooring_seq: drafted
CREATE SEQUENCE mooring_seq AS bigint START WITH 50;

-- table.moorings: drafted
CREATE TABLE moorings (
  id bigint NOT NULL,
  name nvarchar(40) NOT NULL,
  depth decimal(6,2),
  visits int DEFAULT 0 NOT NULL
);

-- table.arrivals: drafted
CREATE TABLE arrivals (
  id bigint NOT NULL,
  mooring_id bigint NOT NULL,
  ship nvarchar(40) NOT NULL,
  tons decimal(8,2) NOT NULL
);

-- function.arrivals_of: confirm
CREATE PROCEDURE arrivals_of @p_mooring float(53)
AS
BEGIN
  SET NOCOUNT ON;
  SELECT COUNT(*) AS n FROM arrivals WHERE mooring_id = @p_mooring;
  RETURN;
END;

-- function.deepened: rewrite

-- function.tons_at: confirm
CREATE FUNCTION tons_at(@p_mooring float(53))
RETURNS float(53)
AS
BEGIN
  DECLARE @v_tons float(53);
  SELECT @v_tons = COALESCE(SUM(tons), 0) FROM arrivals WHERE mooring_id = @p_mooring AND tons < (90 + 9);
  RETURN @v_tons;
END;

-- function.first_over: confirm
CREATE FUNCTION first_over(@p_limit float(53))
RETURNS float(53)
AS
BEGIN
  DECLARE @hs_jumped int;
  DECLARE @v_sum int = 0;
  DECLARE @j bigint;
  DECLARE @i bigint;
  DECLARE @hs_end2 bigint;
  DECLARE @hs_end1 bigint;
  SET @i = 1;
  SET @hs_end1 = 10;
  WHILE @i <= @hs_end1
  BEGIN
    SET @j = 1;
    SET @hs_end2 = 10;
    WHILE @j <= @hs_end2
    BEGIN
      SET @v_sum = @v_sum + @j;
      IF @v_sum > @p_limit
      BEGIN
        GOTO hs_loop1_end;
      END
      IF @j = 3
      BEGIN
        BREAK;
      END
      SET @j = @j + 1;
    END
    SET @i = @i + 1;
  END
  hs_loop1_end: SET @hs_jumped = 1;
  RETURN @v_sum;
END;

-- procedure.add_mooring: confirm
CREATE PROCEDURE add_mooring @p_name nvarchar(max), @p_id float(53) OUTPUT
AS
BEGIN
  SET NOCOUNT ON;
  SET @p_id = NEXT VALUE FOR mooring_seq;
  INSERT INTO moorings (id, name) VALUES (@p_id, UPPER(@p_name));
END;

-- procedure.add_arrival: confirm
CREATE PROCEDURE add_arrival @p_mooring float(53), @p_ship nvarchar(max), @p_tons float(53), @p_id float(53) OUTPUT
AS
BEGIN
  SET NOCOUNT ON;
  SET @p_id = NEXT VALUE FOR arrival_seq;
  INSERT INTO arrivals (id, mooring_id, ship, tons) VALUES (@p_id, ROUND(@p_mooring, 0), @p_ship, @p_tons);
END;

-- procedure.list_arrivals: confirm
CREATE PROCEDURE list_arrivals @p_mooring float(53)
AS
BEGIN
  SET NOCOUNT ON;
  SELECT ship, tons FROM arrivals WHERE mooring_id = @p_mooring ORDER BY id;
END;

-- procedure.pass_on: confirm
CREATE PROCEDURE pass_on
AS
BEGIN
  SET NOCOUNT ON;
  EXEC list_arrivals 1;
END;

-- procedure.count_heavy: confirm
CREATE PROCEDURE count_heavy @p_tons float(53)
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @hs_c_heavy_c_tons float(53);
  DECLARE @hs_c_heavy_c_ship nvarchar(max);
  DECLARE @hs_c_heavy_found bigint;
  DECLARE @r_heavy_mooring_id bigint;
  DECLARE @r_heavy_tons decimal(8,2);
  DECLARE @hs_r_all_mooring_id bigint;
  DECLARE @hs_r_all_tons decimal(8,2);
  DECLARE @hs_rows2_found bigint;
  SET @hs_c_heavy_c_tons = @p_tons;
  SET @hs_c_heavy_c_ship = 'x';
  DECLARE c_heavy CURSOR LOCAL FORWARD_ONLY STATIC FOR
    SELECT mooring_id, tons FROM arrivals WHERE tons > @hs_c_heavy_c_tons AND ship <> @hs_c_heavy_c_ship ORDER BY id;
  OPEN c_heavy;
  WHILE 1 = 1
  BEGIN
    FETCH NEXT FROM c_heavy INTO @r_heavy_mooring_id, @r_heavy_tons;
    IF @@FETCH_STATUS = 0
    BEGIN
      SET @hs_c_heavy_found = 1;
    END
    ELSE
    BEGIN
      SET @hs_c_heavy_found = 0;
    END
    IF @hs_c_heavy_found = 0
    BEGIN
      BREAK;
    END
    UPDATE moorings SET visits = visits + 1 WHERE id = @r_heavy_mooring_id;
  END
  CLOSE c_heavy;
  DEALLOCATE c_heavy;
  SET @hs_c_heavy_c_tons = 0;
  SET @hs_c_heavy_c_ship = 'Gull';
  DECLARE hs_rows2 CURSOR LOCAL FORWARD_ONLY STATIC FOR
    SELECT mooring_id, tons FROM arrivals WHERE tons > @hs_c_heavy_c_tons AND ship <> @hs_c_heavy_c_ship ORDER BY id;
  OPEN hs_rows2;
  WHILE 1 = 1
  BEGIN
    FETCH NEXT FROM hs_rows2 INTO @hs_r_all_mooring_id, @hs_r_all_tons;
    IF @@FETCH_STATUS = 0
    BEGIN
      SET @hs_rows2_found = 1;
    END
    ELSE
    BEGIN
      SET @hs_rows2_found = 0;
    END
    IF @hs_rows2_found = 0
    BEGIN
      BREAK;
    END
    UPDATE moorings SET visits = visits + 100 WHERE id = @hs_r_all_mooring_id;
  END
  CLOSE hs_rows2;
  DEALLOCATE hs_rows2;
END;

-- procedure.note_record: confirm
CREATE PROCEDURE note_record
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @v_note_id bigint;
  DECLARE @v_note_name nvarchar(40);
  SET @v_note_id = 7;
  SET @v_note_name = 'Buoy';
  INSERT INTO moorings (id, name) VALUES (@v_note_id, @v_note_name);
END;

-- procedure.rename_mooring: confirm
CREATE PROCEDURE rename_mooring @p_id float(53), @p_name nvarchar(max)
AS
BEGIN
  SET NOCOUNT ON;
  UPDATE moorings SET name = @p_name WHERE id = @p_id;
END;

-- procedure.take_over: confirm
CREATE PROCEDURE take_over @p_id float(53), @p_name nvarchar(max)
AS
BEGIN
  SET NOCOUNT ON;
  MERGE INTO moorings m USING (SELECT @p_id AS id, @p_name AS name ) s ON (m.id = s.id)
  WHEN MATCHED AND (m.depth IS NOT NULL) THEN UPDATE SET name = s.name, visits = m.visits + 1 
  WHEN NOT MATCHED THEN INSERT (id, name, depth) VALUES (s.id, s.name, 3);
END;

-- procedure.lighten: confirm
CREATE PROCEDURE lighten @p_mooring float(53), @p_by float(53)
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @hs_c_m float(53);
  DECLARE @hs_c_least float(53);
  DECLARE @hs_r_id bigint;
  DECLARE @hs_r_tons decimal(8,2);
  DECLARE @hs_rows1_found bigint;
  SET @hs_c_m = @p_mooring;
  SET @hs_c_least = 30;
  DECLARE hs_rows1 CURSOR LOCAL FORWARD_ONLY STATIC FOR
    SELECT id, tons FROM arrivals WITH (UPDLOCK, ROWLOCK) WHERE mooring_id = @hs_c_m AND tons > @hs_c_least ;
  OPEN hs_rows1;
  WHILE 1 = 1
  BEGIN
    FETCH NEXT FROM hs_rows1 INTO @hs_r_id, @hs_r_tons;
    IF @@FETCH_STATUS = 0
    BEGIN
      SET @hs_rows1_found = 1;
    END
    ELSE
    BEGIN
      SET @hs_rows1_found = 0;
    END
    IF @hs_rows1_found = 0
    BEGIN
      BREAK;
    END
    IF @hs_r_tons > 90
    BEGIN
      DELETE FROM arrivals WHERE id = @hs_r_id;
    END
    ELSE
    BEGIN
      UPDATE a SET a.tons = @hs_r_tons - @p_by FROM arrivals a WHERE id = @hs_r_id;
    END
  END
  CLOSE hs_rows1;
  DEALLOCATE hs_rows1;
END;

-- procedure.rename_ships: confirm
CREATE PROCEDURE rename_ships @p_mark nvarchar(max)
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @hs_c_found bigint;
  DECLARE @v_id bigint;
  DECLARE @v_ship nvarchar(40);
  DECLARE c CURSOR LOCAL FORWARD_ONLY STATIC FOR
    SELECT id, ship FROM arrivals WITH (UPDLOCK, ROWLOCK) ;
  OPEN c;
  WHILE 1 = 1
  BEGIN
    FETCH NEXT FROM c INTO @v_id, @v_ship;
    IF @@FETCH_STATUS = 0
    BEGIN
      SET @hs_c_found = 1;
    END
    ELSE
    BEGIN
      SET @hs_c_found = 0;
    END
    IF @hs_c_found = 0
    BEGIN
      BREAK;
    END
    UPDATE arrivals SET ship = NULLIF(CONCAT(UPPER(@v_ship), @p_mark), '') WHERE id = @v_id;
  END
  CLOSE c;
  DEALLOCATE c;
END;

-- constraint.moorings_pk: as-is
ALTER TABLE moorings ADD CONSTRAINT moorings_pk PRIMARY KEY (id);

-- constraint.arrivals_pk: as-is
ALTER TABLE arrivals ADD CONSTRAINT arrivals_pk PRIMARY KEY (id);

-- trigger.moorings_bi: confirm
ALTER TABLE moorings ADD CONSTRAINT moorings_bi DEFAULT (NEXT VALUE FOR mooring_seq) FOR id;
