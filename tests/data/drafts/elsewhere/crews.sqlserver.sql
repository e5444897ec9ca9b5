-- type.num_list: rewrite

-- type.name_list: rewrite

-- sequence.shift_seq: drafted
CREATE SEQUENCE shift_seq AS bigint START WITH 50;

-- table.crews: drafted
CREATE TABLE crews (
  crew_id int NOT NULL,
  crew_name nvarchar(20) NOT NULL,
  boss nvarchar(30),
  founded datetime2(0)
);

-- table.sailors: drafted
CREATE TABLE sailors (
  sailor_id int IDENTITY(100,1) NOT NULL,
  crew_id int,
  name nvarchar(30) NOT NULL,
  wage decimal(9,2),
  hired datetime2(0) DEFAULT CAST(CAST(SYSDATETIME() AS date) AS datetime2(0)),
  rank_code nvarchar(3)
);

-- table.shifts: confirm
CREATE TABLE shifts (
  shift_id float(53) NOT NULL,
  sailor_id int NOT NULL,
  starts datetime2(0) NOT NULL,
  ends datetime2(0)
);

-- table.wage_log: confirm
CREATE TABLE wage_log (
  sailor_id float(53),
  old_wage decimal(9,2),
  new_wage decimal(9,2),
  changed_by nvarchar(30),
  reason nvarchar(100)
);

-- package.util: rewrite

-- package.crew_api: rewrite

-- function.swap_parts: rewrite

-- function.name_and_wage: rewrite

-- function.total_or_none: rewrite

-- function.crew_names: rewrite

-- function.wages_by_rank: rewrite

-- function.bulk_rows: rewrite

-- function.fetch_limit: rewrite

-- function.record_list: rewrite

-- function.in_list: rewrite

-- function.member_test: rewrite

-- function.numbers_to: rewrite

-- function.varray_sum: rewrite

-- function.shift_hours: confirm
CREATE FUNCTION shift_hours(@p_shift float(53))
RETURNS float(53)
AS
BEGIN
  DECLARE @hs_message nvarchar(2048);
  DECLARE @hs_failed int;
  DECLARE @r_shift_id float(53);
  DECLARE @r_sailor_id int;
  DECLARE @r_starts datetime2(0);
  DECLARE @r_ends datetime2(0);
  SELECT @r_shift_id = shift_id, @r_sailor_id = sailor_id, @r_starts = starts, @r_ends = ends FROM shifts s WHERE s.shift_id = @p_shift;
  IF @@ROWCOUNT = 0
  BEGIN
    SET @hs_message = N'no data found';
    SET @hs_failed = CAST(@hs_message AS int);
  END
  RETURN ((CAST(DATEDIFF_BIG(second, @r_starts, @r_ends) AS decimal(38, 20)) / 86400)) * 24;
END;

-- function.years_served: confirm
CREATE FUNCTION years_served(@p_id float(53), @p_on datetime2(0))
RETURNS float(53)
AS
BEGIN
  DECLARE @hs_message nvarchar(2048);
  DECLARE @hs_failed int;
  DECLARE @l_hired datetime2(0);
  SELECT @l_hired = hired FROM sailors WHERE sailor_id = @p_id;
  IF @@ROWCOUNT = 0
  BEGIN
    SET @hs_message = N'no data found';
    SET @hs_failed = CAST(@hs_message AS int);
  END
  RETURN FLOOR((DATEDIFF(month, @l_hired, @p_on) + CASE WHEN DAY(@p_on) = DAY(@l_hired) OR (CAST(@p_on AS date) = EOMONTH(@p_on) AND CAST(@l_hired AS date) = EOMONTH(@l_hired)) THEN 0 ELSE CAST((DAY(@p_on) - DAY(@l_hired)) * 86400 + (DATEPART(hour, @p_on) * 3600 + DATEPART(minute, @p_on) * 60 + DATEPART(second, @p_on)) - (DATEPART(hour, @l_hired) * 3600 + DATEPART(minute, @l_hired) * 60 + DATEPART(second, @l_hired)) AS decimal(38, 20)) / 2678400 END) / 12);
END;

-- function.pay_day: confirm
CREATE FUNCTION pay_day(@p_day datetime2(0))
RETURNS datetime2(0)
AS
BEGIN
  RETURN DATEADD(day, DATEDIFF(day, CAST(CAST(@p_day AS date) AS datetime2(0)), EOMONTH(CAST(CAST(@p_day AS date) AS datetime2(0)))), CAST(CAST(@p_day AS date) AS datetime2(0)));
END;

-- function.next_monday: confirm
CREATE FUNCTION next_monday(@p_day datetime2(0))
RETURNS datetime2(0)
AS
BEGIN
  RETURN DATEADD(day, 7 - (DATEPART(weekday, @p_day) + @@DATEFIRST + 5) % 7, @p_day);
END;

-- function.week_of: confirm
CREATE FUNCTION week_of(@p_day datetime2(0))
RETURNS nvarchar(max)
AS
BEGIN
  RETURN RIGHT('0' + CAST(DATEPART(iso_week, @p_day) AS nvarchar(10)), 2);
END;

-- function.text_of: confirm
CREATE FUNCTION text_of()
RETURNS nvarchar(max)
AS
BEGIN
  RETURN CONCAT(TRIM(RIGHT(SPACE(11) + FORMAT(1234.5, '#,##0.00', 'en-US'), 11)), '|', CASE WHEN (LEN(CAST(CAST(42 AS nvarchar(40)) AS nvarchar(40)) + 'x') - 1) >= 4 THEN LEFT(CAST(CAST(42 AS nvarchar(40)) AS nvarchar(40)), 4) ELSE LEFT(REPLICATE('0', 4), 4 - (LEN(CAST(CAST(42 AS nvarchar(40)) AS nvarchar(40)) + 'x') - 1)) + CAST(CAST(42 AS nvarchar(40)) AS nvarchar(40)) END, '|', (FORMAT(CAST('2024-01-15' AS date), 'dd-', 'en-US') + UPPER(FORMAT(CAST('2024-01-15' AS date), 'MMM', 'en-US')) + FORMAT(CAST('2024-01-15' AS date), '-yyyy', 'en-US')));
END;

-- function.rank_text: confirm
CREATE FUNCTION rank_text(@p float(53))
RETURNS nvarchar(max)
AS
BEGIN
  RETURN CASE @p WHEN 1 THEN 'first' WHEN 2 THEN 'second' ELSE 'other' END;
END;

-- function.bool_use: confirm
CREATE FUNCTION bool_use(@p float(53))
RETURNS nvarchar(max)
AS
BEGIN
  DECLARE @l_big bit = CASE WHEN @p > 3 THEN 1 WHEN NOT (@p > 3) THEN 0 END;
  IF @l_big <> 0
  BEGIN
    RETURN 'yes';
  END
  ELSE
  BEGIN
    RETURN 'no';
  END
  RETURN NULL;
END;

-- function.case_missing: rewrite

-- function.pivot_ranks: confirm
CREATE FUNCTION pivot_ranks()
RETURNS nvarchar(max)
AS
BEGIN
  DECLARE @hs_message nvarchar(2048);
  DECLARE @hs_failed int;
  DECLARE @hs_rows int;
  DECLARE @a float(53);
  DECLARE @b float(53);
  DECLARE @c float(53);
  SELECT @a = cap, @b = mat, @c = dec FROM (SELECT COUNT(CASE WHEN hs_rows.rank_code = 'CAP' THEN 1 END) AS cap, COUNT(CASE WHEN hs_rows.rank_code = 'MAT' THEN 1 END) AS mat, COUNT(CASE WHEN hs_rows.rank_code = 'DEC' THEN 1 END) AS dec
  FROM (SELECT rank_code FROM sailors) AS hs_rows) AS hs_turned;
  SET @hs_rows = @@ROWCOUNT;
  IF @hs_rows = 0
  BEGIN
    SET @hs_message = N'no data found';
    SET @hs_failed = CAST(@hs_message AS int);
  END
  ELSE IF @hs_rows > 1
  BEGIN
    SET @hs_message = N'several rows found';
    SET @hs_failed = CAST(@hs_message AS int);
  END
  RETURN CONCAT(CASE WHEN @a = 0 THEN '0' ELSE FORMAT(@a, '#.############################', 'en-US') END, '-', CASE WHEN @b = 0 THEN '0' ELSE FORMAT(@b, '#.############################', 'en-US') END, '-', CASE WHEN @c = 0 THEN '0' ELSE FORMAT(@c, '#.############################', 'en-US') END);
END;

-- function.ratio_text: rewrite

-- procedure.check_wage: confirm
CREATE PROCEDURE check_wage @p_wage float(53)
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @hs_given1 bit;
  SET @hs_given1 = CASE WHEN @p_wage >= 0 THEN 1 WHEN NOT (@p_wage >= 0) THEN 0 END;
  EXEC dbo.util_assert_that @hs_given1, 'wage below zero';
END;

-- procedure.raise_all: rewrite

-- procedure.hire_one: rewrite

-- procedure.hire_lost: confirm
CREATE PROCEDURE hire_lost
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @l_id float(53);
  EXEC dbo.crew_api_hire 'Nix', 77, NULL, @l_id OUTPUT;
END;

-- procedure.forall_log: rewrite

-- procedure.forall_indices: rewrite

-- procedure.log_wage: confirm
CREATE PROCEDURE log_wage @p_id float(53), @p_wage float(53)
AS
BEGIN
  SET NOCOUNT ON;
  UPDATE s SET s.wage = @p_wage FROM sailors s WHERE s.sailor_id = @p_id;
END;

-- procedure.close_open: confirm
CREATE PROCEDURE close_open
AS
BEGIN
  SET NOCOUNT ON;
  UPDATE shifts SET ends = DATEADD(hour, 8, starts) WHERE ends IS NULL;
  PRINT CONCAT('closed ', @@ROWCOUNT);
END;

-- procedure.add_shift: confirm
CREATE PROCEDURE add_shift @p_sailor float(53)
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @l_start datetime2(0) = DATEADD(second, CAST(ROUND((CAST(6 AS decimal(38, 12))/24) * 86400, 0) AS int), CAST(CAST(SYSDATETIME() AS date) AS datetime2(0)));
  INSERT INTO shifts (shift_id, sailor_id, starts, ends) VALUES (NEXT VALUE FOR shift_seq, ROUND(@p_sailor, 0), @l_start, DATEADD(second, CAST(ROUND((CAST(8 AS decimal(38, 12))/24) * 86400, 0) AS int), @l_start));
END;

-- procedure.delete_crew: confirm
CREATE PROCEDURE delete_crew @p_crew float(53)
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @hs_message nvarchar(2048);
  UPDATE sailors SET crew_id = NULL WHERE crew_id = @p_crew;
  DELETE crews WHERE crew_id = @p_crew;
  IF @@ROWCOUNT = 0
  BEGIN
    SET @hs_message = 'no such crew';
    THROW 50000, @hs_message, 1;
  END
END;

-- package_body.util: rewrite

-- package_body.crew_api: rewrite

-- constraint.crews_pk: as-is
ALTER TABLE crews ADD CONSTRAINT crews_pk PRIMARY KEY (crew_id);

-- constraint.sailors_pk: as-is
ALTER TABLE sailors ADD CONSTRAINT sailors_pk PRIMARY KEY (sailor_id);

-- constraint.shifts_pk: as-is
ALTER TABLE shifts ADD CONSTRAINT shifts_pk PRIMARY KEY (shift_id);

-- constraint.crews_crew_name_uk: as-is
ALTER TABLE crews ADD CONSTRAINT crews_crew_name_uk UNIQUE (crew_name);

-- constraint.sailors_crew_fk: as-is
ALTER TABLE sailors ADD CONSTRAINT sailors_crew_fk FOREIGN KEY (crew_id) REFERENCES crews (crew_id);

-- constraint.shifts_sailor_id_fk: as-is
ALTER TABLE shifts ADD CONSTRAINT shifts_sailor_id_fk FOREIGN KEY (sailor_id) REFERENCES sailors (sailor_id);

-- view.v_crews: rewrite

-- trigger.sailors_wage_au: confirm
CREATE TRIGGER sailors_wage_au ON sailors AFTER UPDATE
AS
BEGIN
  SET NOCOUNT ON;
  IF NOT (UPDATE(wage))
    RETURN;
  DECLARE @hs_new_wage decimal(9,2);
  DECLARE @hs_old_wage decimal(9,2);
  DECLARE @hs_old_sailor_id int;
  DECLARE @hs_new_crew_id int;
  DECLARE @v_reason nvarchar(100);
  DECLARE hs_changed CURSOR LOCAL FORWARD_ONLY STATIC FOR
    SELECT hs_new.wage, hs_old.wage, hs_old.sailor_id, hs_new.crew_id FROM inserted AS hs_new JOIN deleted AS hs_old ON hs_old.sailor_id = hs_new.sailor_id;
  OPEN hs_changed;
  WHILE 1 = 1
  BEGIN
    FETCH NEXT FROM hs_changed INTO @hs_new_wage, @hs_old_wage, @hs_old_sailor_id, @hs_new_crew_id;
    IF @@FETCH_STATUS <> 0
    BEGIN
      BREAK;
    END
    SET @v_reason = NULL;
    IF COALESCE(@hs_new_wage, -1) <> COALESCE(@hs_old_wage, -1) AND @hs_new_crew_id = 2
    BEGIN
      SET @v_reason = CASE WHEN @hs_new_wage > @hs_old_wage THEN 'up' ELSE 'down' END;
      INSERT INTO wage_log (sailor_id, old_wage, new_wage, changed_by, reason)
  VALUES (@hs_old_sailor_id, @hs_old_wage, @hs_new_wage, SUSER_SNAME(), @v_reason);
    END
  END
  CLOSE hs_changed;
  DEALLOCATE hs_changed;
END;
