-- table.berth: confirm
CREATE TABLE berth (
  berth_id bigint IDENTITY(1,1) NOT NULL,
  name nvarchar(30) NOT NULL,
  length_m decimal(6,2) DEFAULT '0.00' NOT NULL,
  has_power smallint DEFAULT 1 NOT NULL,
  zone nvarchar(255) DEFAULT 'north' CHECK (zone IN ('north', 'south', 'quay')) NOT NULL,
  price int,
  opened_on date
);

-- table.boat: drafted
CREATE TABLE boat (
  boat_id int IDENTITY(1,1) NOT NULL,
  boat_name nvarchar(40) NOT NULL,
  berth_id bigint,
  owner nvarchar(40),
  weight_t decimal(8,2),
  built_on date,
  last_seen datetime2(0),
  note nvarchar(max)
);

-- table.stay: drafted
CREATE TABLE stay (
  stay_id int IDENTITY(1,1) NOT NULL,
  boat_id int NOT NULL,
  nights int NOT NULL,
  fee decimal(10,2),
  came_on date NOT NULL,
  paid smallint DEFAULT 0 NOT NULL
);

-- table.log_entry: drafted
CREATE TABLE log_entry (
  log_id int IDENTITY(1,1) NOT NULL,
  what nvarchar(100) NOT NULL,
  amount decimal(12,2)
);

-- table.tally: confirm
CREATE TABLE tally (
  tally_key nvarchar(20) NOT NULL,
  tally_count int DEFAULT 0 NOT NULL
);

-- function.f_add: drafted
CREATE FUNCTION f_add(@a int, @b int)
RETURNS int
AS
BEGIN
  RETURN @a + @b;
END;

-- function.f_divide: drafted
CREATE FUNCTION f_divide(@a int, @b int)
RETURNS decimal(12,4)
AS
BEGIN
  RETURN ROUND(CAST(@a AS decimal(28, 10)) / NULLIF(@b, 0), 4);
END;

-- function.f_div: drafted
CREATE FUNCTION f_div(@a int, @b int)
RETURNS int
AS
BEGIN
  RETURN CAST(@a / NULLIF(@b, 0) AS bigint);
END;

-- function.f_mod: drafted
CREATE FUNCTION f_mod(@a int, @b int)
RETURNS int
AS
BEGIN
  RETURN (@a % NULLIF(@b, 0));
END;

-- function.f_percent: drafted
CREATE FUNCTION f_percent(@a int, @b int)
RETURNS int
AS
BEGIN
  RETURN (@a % NULLIF(@b, 0));
END;

-- function.f_greet: confirm
CREATE FUNCTION f_greet(@p nvarchar(20))
RETURNS nvarchar(60)
AS
BEGIN
  RETURN (CAST('Hello ' AS nvarchar(max)) + CAST(@p AS nvarchar(max)) + CAST('!' AS nvarchar(max)));
END;

-- function.f_concat_null: confirm
CREATE FUNCTION f_concat_null(@p nvarchar(20))
RETURNS nvarchar(60)
AS
BEGIN
  RETURN (CAST('a' AS nvarchar(max)) + CAST(@p AS nvarchar(max)) + CAST('b' AS nvarchar(max)));
END;

-- function.f_concat_ws: drafted
CREATE FUNCTION f_concat_ws(@a nvarchar(20), @b nvarchar(20))
RETURNS nvarchar(60)
AS
BEGIN
  RETURN CONCAT_WS('-', @a, @b);
END;

-- function.f_ifnull: drafted
CREATE FUNCTION f_ifnull(@a int)
RETURNS int
AS
BEGIN
  RETURN COALESCE(@a, -1);
END;

-- function.f_if: drafted
CREATE FUNCTION f_if(@a int)
RETURNS nvarchar(10)
AS
BEGIN
  RETURN CASE WHEN (@a > 3) THEN 'big' ELSE 'small' END;
END;

-- function.f_if_number: drafted
CREATE FUNCTION f_if_number(@a int)
RETURNS nvarchar(10)
AS
BEGIN
  RETURN CASE WHEN (@a <> 0) THEN 'yes' ELSE 'no' END;
END;

-- function.f_truth: drafted
CREATE FUNCTION f_truth(@a int, @b int)
RETURNS int
AS
BEGIN
  RETURN CASE WHEN @a = @b THEN 1 WHEN NOT (@a = @b) THEN 0 END;
END;

-- function.f_truth_and: drafted
CREATE FUNCTION f_truth_and(@a int, @b int)
RETURNS smallint
AS
BEGIN
  RETURN CASE WHEN @a > 1 AND @b > 1 THEN 1 WHEN NOT (@a > 1 AND @b > 1) THEN 0 END;
END;

-- function.f_not: drafted
CREATE FUNCTION f_not(@a int)
RETURNS int
AS
BEGIN
  RETURN CASE WHEN NOT (@a <> 0) THEN 1 WHEN NOT (NOT (@a <> 0)) THEN 0 END;
END;

-- function.f_bang: rewrite

-- function.f_amp: rewrite

-- function.f_xor: rewrite

-- function.f_null_safe: drafted
CREATE FUNCTION f_null_safe(@a int, @b int)
RETURNS int
AS
BEGIN
  RETURN CASE WHEN @a IS NOT DISTINCT FROM @b THEN 1 WHEN NOT (@a IS NOT DISTINCT FROM @b) THEN 0 END;
END;

-- function.f_isnull: drafted
CREATE FUNCTION f_isnull(@a int)
RETURNS int
AS
BEGIN
  RETURN CASE WHEN @a IS NULL THEN 1 ELSE 0 END;
END;

-- function.f_case: drafted
CREATE FUNCTION f_case(@a int)
RETURNS nvarchar(10)
AS
BEGIN
  RETURN CASE @a WHEN 1 THEN 'one' WHEN 2 THEN 'two' ELSE 'many' END;
END;

-- function.f_case_when: drafted
CREATE FUNCTION f_case_when(@a int)
RETURNS nvarchar(10)
AS
BEGIN
  RETURN CASE WHEN @a < 0 THEN 'minus' WHEN (@a <> 0) THEN 'plus' ELSE 'zero' END;
END;

-- function.f_upper: drafted
CREATE FUNCTION f_upper(@p nvarchar(30))
RETURNS nvarchar(30)
AS
BEGIN
  RETURN UPPER(LTRIM(RTRIM(@p)));
END;

-- function.f_left: confirm
CREATE FUNCTION f_left(@p nvarchar(30), @n int)
RETURNS nvarchar(30)
AS
BEGIN
  RETURN LEFT(@p, @n);
END;

-- function.f_right: confirm
CREATE FUNCTION f_right(@p nvarchar(30), @n bigint)
RETURNS nvarchar(30)
AS
BEGIN
  RETURN RIGHT(@p, @n);
END;

-- function.f_substring: confirm
CREATE FUNCTION f_substring(@p nvarchar(30), @a int, @n int)
RETURNS nvarchar(30)
AS
BEGIN
  RETURN SUBSTRING(@p, @a, @n);
END;

-- function.f_substr_end: confirm
CREATE FUNCTION f_substr_end(@p nvarchar(30))
RETURNS nvarchar(30)
AS
BEGIN
  RETURN CASE WHEN LEN(@p + 'x') > 3 THEN RIGHT(@p, 3) ELSE '' END;
END;

-- function.f_mid: confirm
CREATE FUNCTION f_mid(@p nvarchar(30))
RETURNS nvarchar(30)
AS
BEGIN
  RETURN SUBSTRING(@p, 2, 3);
END;

-- function.f_locate: drafted
CREATE FUNCTION f_locate(@a nvarchar(10), @p nvarchar(30))
RETURNS int
AS
BEGIN
  RETURN CASE WHEN DATALENGTH(@a) = 0 AND @p IS NOT NULL THEN 1 ELSE CHARINDEX(@a, @p) END;
END;

-- function.f_locate_from: rewrite

-- function.f_instr: drafted
CREATE FUNCTION f_instr(@p nvarchar(30), @a nvarchar(10))
RETURNS int
AS
BEGIN
  RETURN CASE WHEN DATALENGTH(@a) = 0 AND @p IS NOT NULL THEN 1 ELSE CHARINDEX(@a, @p) END;
END;

-- function.f_replace: drafted
CREATE FUNCTION f_replace(@p nvarchar(30))
RETURNS nvarchar(30)
AS
BEGIN
  RETURN REPLACE(@p COLLATE Latin1_General_BIN2, 'a', 'o') COLLATE DATABASE_DEFAULT;
END;

-- function.f_repeat: drafted
CREATE FUNCTION f_repeat(@n int)
RETURNS nvarchar(30)
AS
BEGIN
  RETURN REPLICATE('ab', CASE WHEN @n < 0 THEN 0 ELSE @n END);
END;

-- function.f_space: confirm
CREATE FUNCTION f_space(@n int)
RETURNS nvarchar(30)
AS
BEGIN
  RETURN (CAST('[' AS nvarchar(max)) + CAST(SPACE(@n) AS nvarchar(max)) + CAST(']' AS nvarchar(max)));
END;

-- function.f_reverse: drafted
CREATE FUNCTION f_reverse(@p nvarchar(30))
RETURNS nvarchar(30)
AS
BEGIN
  RETURN REVERSE(@p);
END;

-- function.f_lpad: drafted
CREATE FUNCTION f_lpad(@n int)
RETURNS nvarchar(30)
AS
BEGIN
  RETURN CASE WHEN (LEN(CAST(@n AS nvarchar(40)) + 'x') - 1) >= 6 THEN LEFT(CAST(@n AS nvarchar(40)), 6) ELSE LEFT(REPLICATE('0', 6), 6 - (LEN(CAST(@n AS nvarchar(40)) + 'x') - 1)) + CAST(@n AS nvarchar(40)) END;
END;

-- function.f_length: drafted
CREATE FUNCTION f_length(@p nvarchar(30))
RETURNS int
AS
BEGIN
  RETURN (LEN(@p + 'x') - 1);
END;

-- function.f_field: drafted
CREATE FUNCTION f_field(@p nvarchar(30))
RETURNS int
AS
BEGIN
  RETURN (CASE @p WHEN 'x' THEN 1 WHEN 'y' THEN 2 WHEN 'z' THEN 3 ELSE 0 END);
END;

-- function.f_find_in_set: confirm
CREATE FUNCTION f_find_in_set(@p nvarchar(30))
RETURNS int
AS
BEGIN
  RETURN (LEN(LEFT(',' + 'a,b,c', CHARINDEX(',' + @p + ',', ',' + 'a,b,c' + ',')) + 'x') - LEN(REPLACE(LEFT(',' + 'a,b,c', CHARINDEX(',' + @p + ',', ',' + 'a,b,c' + ',')), ',', '') + 'x'));
END;

-- function.f_substring_index: drafted
CREATE FUNCTION f_substring_index(@p nvarchar(60))
RETURNS nvarchar(60)
AS
BEGIN
  RETURN LEFT(@p, CHARINDEX('@', @p + '@') - 1);
END;

-- function.f_substring_last: drafted
CREATE FUNCTION f_substring_last(@p nvarchar(60))
RETURNS nvarchar(60)
AS
BEGIN
  RETURN REVERSE(LEFT(REVERSE(@p), CHARINDEX('.', REVERSE(@p) + '.') - 1));
END;

-- function.f_escape: drafted
CREATE FUNCTION f_escape()
RETURNS nvarchar(60)
AS
BEGIN
  RETURN 'it''s "a" \ path';
END;

-- function.f_double: drafted
CREATE FUNCTION f_double()
RETURNS nvarchar(60)
AS
BEGIN
  RETURN 'it''s "b"';
END;

-- function.f_round: drafted
CREATE FUNCTION f_round(@a decimal(10,3))
RETURNS decimal(10,2)
AS
BEGIN
  RETURN ROUND(@a, 2);
END;

-- function.f_truncate: drafted
CREATE FUNCTION f_truncate(@a decimal(10,3))
RETURNS decimal(10,1)
AS
BEGIN
  RETURN ROUND(@a, 1, 1);
END;

-- function.f_tenths: drafted
CREATE FUNCTION f_tenths(@a decimal(5,1))
RETURNS int
AS
BEGIN
  RETURN ROUND(@a * 10, 0);
END;

-- function.f_tenths_kept: drafted
CREATE FUNCTION f_tenths_kept(@a decimal(5,1))
RETURNS decimal(9,3)
AS
BEGIN
  DECLARE @b decimal(9,3) = @a;
  RETURN @b * 2;
END;

-- function.f_ceil: drafted
CREATE FUNCTION f_ceil(@a decimal(10,3))
RETURNS int
AS
BEGIN
  RETURN CEILING(@a) + FLOOR(@a);
END;

-- function.f_cast: rewrite

-- function.f_convert: drafted
CREATE FUNCTION f_convert(@n int)
RETURNS nvarchar(20)
AS
BEGIN
  RETURN CAST(@n AS nvarchar(max));
END;

-- function.f_cast_decimal: confirm
CREATE FUNCTION f_cast_decimal(@p nvarchar(10))
RETURNS decimal(10,2)
AS
BEGIN
  RETURN CAST(@p AS decimal(10,2)) * 2;
END;

-- function.f_greatest: confirm
CREATE FUNCTION f_greatest(@a int, @b int)
RETURNS int
AS
BEGIN
  RETURN (CASE WHEN @a IS NOT NULL AND @b IS NOT NULL THEN GREATEST(@a, @b) END) - (CASE WHEN @a IS NOT NULL AND @b IS NOT NULL THEN LEAST(@a, @b) END);
END;

-- function.f_power: drafted
CREATE FUNCTION f_power(@a int)
RETURNS int
AS
BEGIN
  RETURN ROUND(POWER(CAST(@a AS float), 2) + ABS(-@a) + SIGN(@a), 0);
END;

-- function.f_day_after: confirm
CREATE FUNCTION f_day_after(@d date, @n int)
RETURNS date
AS
BEGIN
  RETURN DATEADD(day, @n, @d);
END;

-- function.f_month_before: confirm
CREATE FUNCTION f_month_before(@d date)
RETURNS date
AS
BEGIN
  RETURN DATEADD(month, -(1), @d);
END;

-- function.f_plus_interval: confirm
CREATE FUNCTION f_plus_interval(@d date)
RETURNS date
AS
BEGIN
  RETURN DATEADD(week, 2, @d);
END;

-- function.f_hours_on: confirm
CREATE FUNCTION f_hours_on(@d datetime2(0), @n int)
RETURNS datetime2(0)
AS
BEGIN
  RETURN DATEADD(hour, @n, @d);
END;

-- function.f_quarter_on: confirm
CREATE FUNCTION f_quarter_on(@d date)
RETURNS date
AS
BEGIN
  RETURN DATEADD(quarter, 1, @d);
END;

-- function.f_adddate: drafted
CREATE FUNCTION f_adddate(@d date)
RETURNS date
AS
BEGIN
  RETURN DATEADD(day, 10, @d);
END;

-- function.f_datediff: drafted
CREATE FUNCTION f_datediff(@a date, @b date)
RETURNS int
AS
BEGIN
  RETURN DATEDIFF(day, @b, @a);
END;

-- function.f_months: confirm
CREATE FUNCTION f_months(@a date, @b date)
RETURNS int
AS
BEGIN
  RETURN (DATEDIFF(month, @a, @b) - CASE WHEN @a <= @b AND DATEDIFF(second, DATEFROMPARTS(YEAR(@b), MONTH(@b), 1), @b) < DATEDIFF(second, DATEFROMPARTS(YEAR(@a), MONTH(@a), 1), @a) THEN 1 WHEN @a > @b AND DATEDIFF(second, DATEFROMPARTS(YEAR(@b), MONTH(@b), 1), @b) > DATEDIFF(second, DATEFROMPARTS(YEAR(@a), MONTH(@a), 1), @a) THEN -1 ELSE 0 END);
END;

-- function.f_minutes: confirm
CREATE FUNCTION f_minutes(@a datetime2(0), @b datetime2(0))
RETURNS int
AS
BEGIN
  RETURN (DATEDIFF_BIG(second, @a, @b) / 60);
END;

-- function.f_years: confirm
CREATE FUNCTION f_years(@a date, @b date)
RETURNS int
AS
BEGIN
  RETURN ((DATEDIFF(month, @a, @b) - CASE WHEN @a <= @b AND DATEDIFF(second, DATEFROMPARTS(YEAR(@b), MONTH(@b), 1), @b) < DATEDIFF(second, DATEFROMPARTS(YEAR(@a), MONTH(@a), 1), @a) THEN 1 WHEN @a > @b AND DATEDIFF(second, DATEFROMPARTS(YEAR(@b), MONTH(@b), 1), @b) > DATEDIFF(second, DATEFROMPARTS(YEAR(@a), MONTH(@a), 1), @a) THEN -1 ELSE 0 END) / 12);
END;

-- function.f_parts: drafted
CREATE FUNCTION f_parts(@d datetime2(0))
RETURNS int
AS
BEGIN
  RETURN YEAR(@d) * 10000 + MONTH(@d) * 100 + DAY(@d) + DATEPART(hour, @d) + DATEPART(minute, @d) + DATEPART(second, @d);
END;

-- function.f_quarter: drafted
CREATE FUNCTION f_quarter(@d date)
RETURNS int
AS
BEGIN
  RETURN DATEPART(quarter, @d) * 1000 + DATEPART(dayofyear, @d);
END;

-- function.f_weekday: confirm
CREATE FUNCTION f_weekday(@d date)
RETURNS int
AS
BEGIN
  RETURN ((DATEPART(weekday, @d) + @@DATEFIRST - 2) % 7) * 10 + ((DATEPART(weekday, @d) + @@DATEFIRST - 1) % 7 + 1);
END;

-- function.f_dayname: confirm
CREATE FUNCTION f_dayname(@d date)
RETURNS nvarchar(30)
AS
BEGIN
  RETURN (CAST(FORMAT(@d, 'dddd', 'en-US') AS nvarchar(max)) + CAST(' ' AS nvarchar(max)) + CAST(FORMAT(@d, 'MMMM', 'en-US') AS nvarchar(max)));
END;

-- function.f_yearweek: confirm
CREATE FUNCTION f_yearweek(@d date)
RETURNS int
AS
BEGIN
  RETURN ROUND((YEAR(DATEADD(day, 26 - DATEPART(iso_week, @d), @d)) * 100 + DATEPART(iso_week, @d)) * 10 + ((CASE WHEN (YEAR(DATEADD(day, 26 - DATEPART(iso_week, @d), @d)) * 100 + DATEPART(iso_week, @d)) = (YEAR(DATEADD(day, 26 - DATEPART(iso_week, @d), @d)) * 100 + DATEPART(iso_week, @d)) THEN 1 WHEN NOT ((YEAR(DATEADD(day, 26 - DATEPART(iso_week, @d), @d)) * 100 + DATEPART(iso_week, @d)) = (YEAR(DATEADD(day, 26 - DATEPART(iso_week, @d), @d)) * 100 + DATEPART(iso_week, @d))) THEN 0 END)), 0);
END;

-- function.f_periods: rewrite

-- function.f_addtime: rewrite

-- function.f_clock: confirm
CREATE FUNCTION f_clock()
RETURNS int
AS
BEGIN
  RETURN ROUND(((CASE WHEN SYSDATETIME() = SYSDATETIME() THEN 1 WHEN NOT (SYSDATETIME() = SYSDATETIME()) THEN 0 END)) + ((CASE WHEN CAST(SYSDATETIME() AS date) = CAST(SYSDATETIME() AS date) THEN 1 WHEN NOT (CAST(SYSDATETIME() AS date) = CAST(SYSDATETIME() AS date)) THEN 0 END)) + ((CASE WHEN SYSDATETIME() = SYSDATETIME() THEN 1 WHEN NOT (SYSDATETIME() = SYSDATETIME()) THEN 0 END)), 0);
END;

-- function.f_last_day: drafted
CREATE FUNCTION f_last_day(@d date)
RETURNS date
AS
BEGIN
  RETURN EOMONTH(@d);
END;

-- function.f_date_format: confirm
CREATE FUNCTION f_date_format(@d datetime2(0))
RETURNS nvarchar(40)
AS
BEGIN
  RETURN FORMAT(@d, 'dd.MM.yyyy HH\:mm', 'en-US');
END;

-- function.f_date_words: confirm
CREATE FUNCTION f_date_words(@d date)
RETURNS nvarchar(60)
AS
BEGIN
  RETURN FORMAT(@d, '\o\n dddd, d MMMM yyyy', 'en-US');
END;

-- function.f_str_to_date: confirm
CREATE FUNCTION f_str_to_date(@p nvarchar(20))
RETURNS date
AS
BEGIN
  RETURN TRY_CONVERT(date, @p, 103);
END;

-- function.f_date: drafted
CREATE FUNCTION f_date(@d datetime2(0))
RETURNS date
AS
BEGIN
  RETURN CAST(@d AS date);
END;

-- function.f_format: drafted
CREATE FUNCTION f_format(@n decimal(12,3))
RETURNS nvarchar(30)
AS
BEGIN
  RETURN FORMAT(@n, 'N2', 'en-US');
END;

-- function.f_regexp: rewrite

-- function.f_like: drafted
CREATE FUNCTION f_like(@p nvarchar(20))
RETURNS int
AS
BEGIN
  RETURN CASE WHEN @p LIKE 'a%b_' THEN 1 WHEN NOT (@p LIKE 'a%b_') THEN 0 END;
END;

-- function.f_in: drafted
CREATE FUNCTION f_in(@a int)
RETURNS int
AS
BEGIN
  RETURN CASE WHEN @a IN (1, 3, 5) THEN 1 WHEN NOT (@a IN (1, 3, 5)) THEN 0 END;
END;

-- function.f_between: drafted
CREATE FUNCTION f_between(@a int)
RETURNS int
AS
BEGIN
  RETURN CASE WHEN @a NOT BETWEEN 2 AND 4 THEN 1 WHEN NOT (@a NOT BETWEEN 2 AND 4) THEN 0 END;
END;

-- function.f_hex: confirm
CREATE FUNCTION f_hex(@n int)
RETURNS nvarchar(30)
AS
BEGIN
  RETURN FORMAT(@n, 'X');
END;

-- function.f_md5: confirm
CREATE FUNCTION f_md5(@p nvarchar(20))
RETURNS nvarchar(40)
AS
BEGIN
  RETURN LOWER(CONVERT(varchar(128), HASHBYTES('MD5', CAST(@p COLLATE Latin1_General_100_BIN2_UTF8 AS varchar(max))), 2));
END;

-- function.f_while: drafted
CREATE FUNCTION f_while(@n int)
RETURNS int
AS
BEGIN
  DECLARE @total int = 0;
  DECLARE @i int = 0;
  WHILE @i < @n
  BEGIN
    SET @i = @i + 1;
    SET @total = @total + @i;
  END
  RETURN @total;
END;

-- function.f_repeat_until: drafted
CREATE FUNCTION f_repeat_until(@n int)
RETURNS int
AS
BEGIN
  DECLARE @i int = 0;
  WHILE 1 = 1
  BEGIN
    SET @i = @i + 2;
    IF @i >= @n
    BEGIN
      BREAK;
    END
  END
  RETURN @i;
END;

-- function.f_loop: confirm
CREATE FUNCTION f_loop(@n int)
RETURNS nvarchar(100)
AS
BEGIN
  DECLARE @i int = 0;
  DECLARE @s nvarchar(100) = '';
  WHILE 1 = 1
  BEGIN
    SET @i = @i + 1;
    IF @i > @n
    BEGIN
      BREAK;
    END
    IF (@i % 2) = 0
    BEGIN
      CONTINUE;
    END
    SET @s = (CAST(@s AS nvarchar(max)) + CAST(@i AS nvarchar(max)) + CAST(',' AS nvarchar(max)));
  END
  RETURN @s;
END;

-- function.f_nested: drafted
CREATE FUNCTION f_nested(@n int)
RETURNS int
AS
BEGIN
  DECLARE @hs_jumped int;
  DECLARE @j int = 0;
  DECLARE @c int = 0;
  DECLARE @i int = 0;
  WHILE @i < @n
  BEGIN
    SET @i = @i + 1;
    SET @j = 0;
    WHILE (1 = 1)
    BEGIN
      SET @j = @j + 1;
      IF @j > @i
      BEGIN
        BREAK;
      END
      IF @i = 4
      BEGIN
        GOTO hs_loop1_end;
      END
      SET @c = @c + 1;
    END
  END
  hs_loop1_end: SET @hs_jumped = 1;
  RETURN @c;
END;

-- function.f_case_statement: drafted
CREATE FUNCTION f_case_statement(@a int)
RETURNS nvarchar(20)
AS
BEGIN
  DECLARE @r nvarchar(20);
  IF @a = 1
  BEGIN
    SET @r = 'one';
  END
  ELSE IF @a = 2
  BEGIN
    SET @r = 'two';
  END
  ELSE
  BEGIN
    SET @r = 'other';
  END
  RETURN @r;
END;

-- function.f_case_searched: drafted
CREATE FUNCTION f_case_searched(@a int)
RETURNS nvarchar(20)
AS
BEGIN
  IF @a < 10
  BEGIN
    RETURN 'low';
  END
  ELSE IF @a < 20
  BEGIN
    RETURN 'middle';
  END
  ELSE
  BEGIN
    RETURN 'high';
  END
  RETURN NULL;
END;

-- function.f_bool: drafted
CREATE FUNCTION f_bool(@a int)
RETURNS int
AS
BEGIN
  DECLARE @ok smallint = 0;
  IF @a > 2
  BEGIN
    SET @ok = 1;
  END
  IF @ok <> 0
  BEGIN
    RETURN 7;
  END
  RETURN @ok;
END;

-- function.f_recursive_call: drafted
CREATE FUNCTION f_recursive_call(@a int)
RETURNS int
AS
BEGIN
  RETURN dbo.f_add(dbo.f_while(@a), 1);
END;

-- function.f_boat_name: drafted
CREATE FUNCTION f_boat_name(@p_id int)
RETURNS nvarchar(40)
AS
BEGIN
  DECLARE @v nvarchar(40);
  SELECT @v = boat_name FROM boat WHERE boat_id = @p_id;
  RETURN @v;
END;

-- function.f_kept_when_missing: drafted
CREATE FUNCTION f_kept_when_missing(@p_id int)
RETURNS nvarchar(40)
AS
BEGIN
  DECLARE @v nvarchar(40) = 'nobody';
  SELECT @v = owner FROM boat WHERE boat_id = @p_id;
  RETURN @v;
END;

-- function.f_two_values: confirm
CREATE FUNCTION f_two_values(@p_id int)
RETURNS nvarchar(100)
AS
BEGIN
  DECLARE @a nvarchar(40) = '?';
  DECLARE @b decimal(8,2) = 0;
  SELECT TOP (1) @a = boat_name, @b = weight_t FROM boat WHERE boat_id = @p_id;
  RETURN (CAST(@a AS nvarchar(max)) + CAST('/' AS nvarchar(max)) + CAST(@b AS nvarchar(max)));
END;

-- function.f_count: drafted
CREATE FUNCTION f_count()
RETURNS int
AS
BEGIN
  DECLARE @n int = -1;
  SELECT @n = COUNT(*) FROM boat WHERE weight_t > 5;
  RETURN @n;
END;

-- function.f_subquery: drafted
CREATE FUNCTION f_subquery(@p int)
RETURNS nvarchar(40)
AS
BEGIN
  RETURN (SELECT name FROM berth WHERE berth_id = @p);
END;

-- function.f_exists: drafted
CREATE FUNCTION f_exists(@p int)
RETURNS int
AS
BEGIN
  IF EXISTS (SELECT 1 FROM stay WHERE boat_id = @p AND NOT (paid <> 0))
  BEGIN
    RETURN 1;
  END
  RETURN 0;
END;

-- function.f_sum_if: drafted
CREATE FUNCTION f_sum_if()
RETURNS int
AS
BEGIN
  RETURN ROUND((SELECT SUM(CAST(CASE WHEN (paid <> 0) THEN nights ELSE 0 END AS decimal(38, 0))) + SUM((CASE WHEN paid = 0 THEN 1 ELSE 0 END)) FROM stay), 0);
END;

-- function.f_group_concat: confirm
CREATE FUNCTION f_group_concat()
RETURNS nvarchar(200)
AS
BEGIN
  RETURN (SELECT STRING_AGG(CAST(boat_name AS nvarchar(max)), '; ') WITHIN GROUP (ORDER BY boat_name) FROM boat);
END;

-- function.f_group_distinct: rewrite

-- function.f_not_found: drafted
CREATE FUNCTION f_not_found(@p int)
RETURNS nvarchar(40)
AS
BEGIN
  DECLARE @v nvarchar(40);
  SELECT @v = boat_name FROM boat WHERE boat_id = @p;
  IF @@ROWCOUNT = 0
  BEGIN
    RETURN 'missing';
  END
  RETURN @v;
END;

-- function.f_cursor: confirm
CREATE FUNCTION f_cursor()
RETURNS nvarchar(200)
AS
BEGIN
  DECLARE @done int = 0;
  DECLARE @v nvarchar(40);
  DECLARE @r nvarchar(200) = '';
  DECLARE c CURSOR LOCAL FORWARD_ONLY STATIC FOR
    SELECT boat_name FROM boat ORDER BY boat_id;
  OPEN c;
  WHILE 1 = 1
  BEGIN
    FETCH NEXT FROM c INTO @v;
    IF @@FETCH_STATUS <> 0
    BEGIN
      SET @done = 1;
    END
    IF @done <> 0
    BEGIN
      BREAK;
    END
    SET @r = (CAST(@r AS nvarchar(max)) + CAST(@v AS nvarchar(max)) + CAST('|' AS nvarchar(max)));
  END
  CLOSE c;
  DEALLOCATE c;
  RETURN @r;
END;

-- function.f_two_cursors: drafted
CREATE FUNCTION f_two_cursors()
RETURNS int
AS
BEGIN
  DECLARE @done smallint = 0;
  DECLARE @v_n int = 0;
  DECLARE @total int = 0;
  DECLARE @v_id int = 0;
  DECLARE @inner_done int;
  DECLARE c1 CURSOR LOCAL FORWARD_ONLY STATIC FOR
    SELECT boat_id FROM boat;
  OPEN c1;
  WHILE 1 = 1
  BEGIN
    FETCH NEXT FROM c1 INTO @v_id;
    IF @@FETCH_STATUS <> 0
    BEGIN
      SET @done = 1;
    END
    IF NOT (@done <> 0)
    BEGIN
      SET @inner_done = 0;
      DECLARE c2 CURSOR LOCAL FORWARD_ONLY STATIC FOR
        SELECT nights FROM stay WHERE boat_id = @v_id;
      OPEN c2;
      WHILE 1 = 1
      BEGIN
        FETCH NEXT FROM c2 INTO @v_n;
        IF @@FETCH_STATUS <> 0
        BEGIN
          SET @inner_done = 1;
        END
        IF @inner_done = 1
        BEGIN
          BREAK;
        END
        SET @total = @total + @v_n;
      END
      CLOSE c2;
      DEALLOCATE c2;
    END
    IF @done <> 0
    BEGIN
      BREAK;
    END
  END
  CLOSE c1;
  DEALLOCATE c1;
  RETURN @total;
END;

-- procedure.p_out: drafted
CREATE PROCEDURE p_out @a int, @b int OUTPUT, @c int OUTPUT
AS
BEGIN
  SET NOCOUNT ON;
  SET @b = @a * 2;
  SET @c = @c + @b;
END;

-- procedure.p_select: confirm
CREATE PROCEDURE p_select @p_zone nvarchar(10)
AS
BEGIN
  SET NOCOUNT ON;
  SELECT name, length_m, has_power FROM berth WHERE zone = @p_zone ORDER BY name;
END;

-- procedure.p_two_selects: confirm
CREATE PROCEDURE p_two_selects
AS
BEGIN
  SET NOCOUNT ON;
  SELECT COUNT(*) AS boats FROM boat;
  SELECT zone, COUNT(*) AS n, SUM(CAST(price AS bigint)) AS total FROM berth GROUP BY zone ORDER BY (CASE zone WHEN 'north' THEN 1 WHEN 'south' THEN 2 WHEN 'quay' THEN 3 END);
END;

-- procedure.p_either: confirm
CREATE PROCEDURE p_either @a int
AS
BEGIN
  SET NOCOUNT ON;
  IF @a = 1
  BEGIN
    SELECT 'one' AS r;
  END
  ELSE
  BEGIN
    SELECT 'other' AS r, @a AS v;
  END
END;

-- procedure.p_tenths: drafted
CREATE PROCEDURE p_tenths @a decimal(9,3), @tenths decimal(9,1) OUTPUT, @whole int OUTPUT
AS
BEGIN
  SET NOCOUNT ON;
  SET @tenths = @a;
  SET @whole = ROUND(@a * 1.5, 0);
END;

-- procedure.p_without_scale: drafted
CREATE PROCEDURE p_without_scale @a decimal(9,3), @b decimal(4,0), @x decimal(5,0) OUTPUT, @y decimal(10,0) OUTPUT
AS
BEGIN
  SET NOCOUNT ON;
  SET @x = @a;
  SET @y = @b * 1.5;
END;

-- procedure.p_insert: drafted
CREATE PROCEDURE p_insert @p_name nvarchar(30), @p_length decimal(6,2), @p_id int OUTPUT
AS
BEGIN
  SET NOCOUNT ON;
  INSERT INTO berth (name, length_m) VALUES (@p_name, @p_length);
  SET @p_id = SCOPE_IDENTITY();
END;

-- procedure.p_insert_set: drafted
CREATE PROCEDURE p_insert_set @p_what nvarchar(50)
AS
BEGIN
  SET NOCOUNT ON;
  INSERT INTO log_entry (what, amount) VALUES (@p_what, 1.5 * 2);
  INSERT INTO log_entry (what, amount) VALUES ('second', NULL), ('third', 3);
END;

-- procedure.p_upsert: confirm
CREATE PROCEDURE p_upsert @k nvarchar(20), @n int
AS
BEGIN
  SET NOCOUNT ON;
  MERGE INTO tally WITH (HOLDLOCK) AS hs_old
USING (SELECT @k AS tally_key, @n AS tally_count) AS hs_new ON (hs_old.tally_key = hs_new.tally_key)
WHEN MATCHED THEN UPDATE SET hs_old.tally_count = hs_old.tally_count + hs_new.tally_count
WHEN NOT MATCHED THEN INSERT (tally_key, tally_count) VALUES (hs_new.tally_key, hs_new.tally_count);
END;

-- procedure.p_ignore: confirm
CREATE PROCEDURE p_ignore @k nvarchar(20)
AS
BEGIN
  SET NOCOUNT ON;
  MERGE INTO tally WITH (HOLDLOCK) AS hs_old
USING (SELECT @k AS tally_key) AS hs_new ON (hs_old.tally_key = hs_new.tally_key)
WHEN NOT MATCHED THEN INSERT (tally_key, tally_count) VALUES (hs_new.tally_key, 99);
END;

-- procedure.p_replace: confirm
CREATE PROCEDURE p_replace @k nvarchar(20)
AS
BEGIN
  SET NOCOUNT ON;
  MERGE INTO tally WITH (HOLDLOCK) AS hs_old
USING (SELECT @k AS tally_key) AS hs_new ON (hs_old.tally_key = hs_new.tally_key)
WHEN MATCHED THEN UPDATE SET tally_count = DEFAULT
WHEN NOT MATCHED THEN INSERT (tally_key) VALUES (hs_new.tally_key);
END;

-- procedure.p_update_join: confirm
CREATE PROCEDURE p_update_join
AS
BEGIN
  SET NOCOUNT ON;
  UPDATE b SET b.note = (CAST('at ' AS nvarchar(max)) + CAST(x.name AS nvarchar(max))), b.owner = NULL FROM boat b JOIN berth x ON x.berth_id = b.berth_id WHERE x.zone = 'north';
END;

-- procedure.p_update_left: confirm
CREATE PROCEDURE p_update_left
AS
BEGIN
  SET NOCOUNT ON;
  UPDATE b SET b.note = 'never stayed' FROM boat b LEFT JOIN stay s ON s.boat_id = b.boat_id WHERE s.stay_id IS NULL;
END;

-- procedure.p_update_limit: drafted
CREATE PROCEDURE p_update_limit
AS
BEGIN
  SET NOCOUNT ON;
  WITH hs_rows AS (SELECT TOP (2) * FROM stay WHERE paid = 0 ORDER BY stay_id) UPDATE hs_rows SET paid = 1;
END;

-- procedure.p_delete_join: confirm
CREATE PROCEDURE p_delete_join
AS
BEGIN
  SET NOCOUNT ON;
  DELETE s FROM stay s INNER JOIN boat b ON b.boat_id = s.boat_id WHERE b.boat_name = 'Tern' AND NOT (s.paid <> 0);
END;

-- procedure.p_delete_limit: drafted
CREATE PROCEDURE p_delete_limit @n int
AS
BEGIN
  SET NOCOUNT ON;
  WITH hs_rows AS (SELECT TOP (1) * FROM stay WHERE nights < 10 ORDER BY came_on DESC) DELETE FROM hs_rows;
END;

-- procedure.p_row_count: confirm
CREATE PROCEDURE p_row_count @n int OUTPUT
AS
BEGIN
  SET NOCOUNT ON;
  UPDATE stay SET fee = nights * 12.5;
  SET @n = @@ROWCOUNT;
  DELETE FROM log_entry;
  IF @@ROWCOUNT = 0
  BEGIN
    INSERT INTO log_entry (what) VALUES ('nothing to delete');
  END
END;

-- procedure.p_signal: drafted
CREATE PROCEDURE p_signal @a int
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @hs_message nvarchar(2048);
  IF @a < 0
  BEGIN
    SET @hs_message = 'below zero';
    THROW 50000, @hs_message, 1;
  END
  INSERT INTO log_entry (what, amount) VALUES ('fine', @a);
END;

-- procedure.p_exit_handler: confirm
CREATE PROCEDURE p_exit_handler @p_name nvarchar(30), @p_result nvarchar(60) OUTPUT
AS
BEGIN
  SET NOCOUNT ON;
  BEGIN TRY
    SET @p_result = 'made';
    INSERT INTO berth (name) VALUES (@p_name);
  END TRY
  BEGIN CATCH
    IF ERROR_NUMBER() IN (2601, 2627)
    BEGIN
      SET @p_result = 'there already';
    END
    ELSE
    BEGIN
      ;THROW;
    END
  END CATCH
END;

-- procedure.p_continue_handler: drafted
CREATE PROCEDURE p_continue_handler @p_failed int OUTPUT
AS
BEGIN
  SET NOCOUNT ON;
  SET @p_failed = 0;
  BEGIN TRY
    INSERT INTO tally (tally_key) VALUES ('a');
  END TRY
  BEGIN CATCH
    SET @p_failed = @p_failed + 1;
  END CATCH
  BEGIN TRY
    INSERT INTO tally (tally_key) VALUES ('a');
  END TRY
  BEGIN CATCH
    SET @p_failed = @p_failed + 1;
  END CATCH
  BEGIN TRY
    INSERT INTO tally (tally_key) VALUES ('b');
  END TRY
  BEGIN CATCH
    SET @p_failed = @p_failed + 1;
  END CATCH
END;

-- procedure.p_resignal: confirm
CREATE PROCEDURE p_resignal @a int
AS
BEGIN
  SET NOCOUNT ON;
  BEGIN TRY
    BEGIN TRANSACTION;
    INSERT INTO tally (tally_key) VALUES ('x');
    IF @a = 1
    BEGIN
      INSERT INTO tally (tally_key) VALUES ('x');
    END
    IF @@TRANCOUNT > 0
    BEGIN
      COMMIT TRANSACTION;
    END
  END TRY
  BEGIN CATCH
    IF @@TRANCOUNT > 0
    BEGIN
      ROLLBACK TRANSACTION;
    END
    ;THROW;
  END CATCH
END;

-- procedure.p_message: rewrite

-- procedure.p_named_condition: rewrite

-- procedure.p_session: rewrite

-- procedure.p_leave: drafted
CREATE PROCEDURE p_leave @a int, @r int OUTPUT
AS
BEGIN
  SET NOCOUNT ON;
  SET @r = 1;
  IF @a = 0
  BEGIN
    RETURN;
  END
  SET @r = 2;
END;

-- procedure.p_calls: drafted
CREATE PROCEDURE p_calls @a int, @r int OUTPUT
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @y int = 5;
  DECLARE @x int = 5;
  EXEC p_out @a, @x OUTPUT, @y OUTPUT;
  SET @r = @x * 100 + @y;
END;

-- procedure.p_temp: confirm
CREATE PROCEDURE p_temp @r int OUTPUT
AS
BEGIN
  SET NOCOUNT ON;
  DROP TABLE IF EXISTS [#heavy];
  CREATE TABLE [#heavy] (boat_id int NOT NULL, w decimal(8,2), PRIMARY KEY (boat_id));
  DELETE FROM [#heavy];
  INSERT INTO [#heavy] SELECT boat_id, weight_t FROM boat WHERE weight_t > 5;
  SELECT @r = COUNT(*) FROM [#heavy];
  DROP TABLE IF EXISTS [#heavy];
END;

-- procedure.p_limit: confirm
CREATE PROCEDURE p_limit @n int
AS
BEGIN
  SET NOCOUNT ON;
  SELECT boat_name FROM boat ORDER BY boat_name  OFFSET 1 ROWS FETCH NEXT 2 ROWS ONLY;
END;

-- procedure.p_null_order: confirm
CREATE PROCEDURE p_null_order
AS
BEGIN
  SET NOCOUNT ON;
  SELECT TOP (2) boat_name, owner FROM boat ORDER BY owner, boat_name ;
END;

-- procedure.p_rollup: confirm
CREATE PROCEDURE p_rollup
AS
BEGIN
  SET NOCOUNT ON;
  SELECT zone, SUM(CAST(price AS bigint)) AS total FROM berth GROUP BY ROLLUP (zone);
END;

-- procedure.p_having: confirm
CREATE PROCEDURE p_having
AS
BEGIN
  SET NOCOUNT ON;
  SELECT boat_id, SUM(CAST(nights AS bigint)) AS n FROM stay GROUP BY boat_id HAVING SUM(CAST(nights AS bigint)) > 3 ORDER BY n DESC;
END;

-- procedure.p_union: confirm
CREATE PROCEDURE p_union
AS
BEGIN
  SET NOCOUNT ON;
  SELECT name FROM berth UNION SELECT boat_name FROM boat ORDER BY 1  OFFSET 0 ROWS FETCH NEXT 3 ROWS ONLY;
END;

-- procedure.p_dates: confirm
CREATE PROCEDURE p_dates @p_day date
AS
BEGIN
  SET NOCOUNT ON;
  SELECT boat_name, DATEDIFF(day, built_on, @p_day) AS age FROM boat WHERE built_on < DATEADD(year, -1, @p_day) ORDER BY boat_name;
END;

-- procedure.p_loop_rows: confirm
CREATE PROCEDURE p_loop_rows
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @v_id int;
  DECLARE @v_n int;
  DECLARE @at_end smallint = 0;
  DECLARE c CURSOR LOCAL FORWARD_ONLY STATIC FOR
    SELECT boat_id, nights FROM stay ORDER BY stay_id;
  OPEN c;
  FETCH NEXT FROM c INTO @v_id, @v_n;
  IF @@FETCH_STATUS <> 0
  BEGIN
    SET @at_end = 1;
  END
  WHILE NOT (@at_end <> 0)
  BEGIN
    INSERT INTO log_entry (what, amount) VALUES ((CAST('boat ' AS nvarchar(max)) + CAST(@v_id AS nvarchar(max))), @v_n);
    FETCH NEXT FROM c INTO @v_id, @v_n;
    IF @@FETCH_STATUS <> 0
    BEGIN
      SET @at_end = 1;
    END
  END
  CLOSE c;
  DEALLOCATE c;
END;

-- procedure.p_do: rewrite

-- procedure.p_fire_insert: drafted
CREATE PROCEDURE p_fire_insert
AS
BEGIN
  SET NOCOUNT ON;
  INSERT INTO boat (boat_name) VALUES ('  Shag ');
END;

-- procedure.p_fire_update: confirm
CREATE PROCEDURE p_fire_update
AS
BEGIN
  SET NOCOUNT ON;
  UPDATE berth SET price = price + 5, name = (CAST(name AS nvarchar(max)) + CAST('!' AS nvarchar(max))) WHERE zone = 'quay';
END;

-- procedure.p_fire_delete: drafted
CREATE PROCEDURE p_fire_delete @p int
AS
BEGIN
  SET NOCOUNT ON;
  DELETE FROM stay WHERE stay_id = @p;
END;

-- procedure.p_cursor_ends: confirm
CREATE PROCEDURE p_cursor_ends
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @hs_message nvarchar(2048);
  DECLARE @v nvarchar(40);
  BEGIN TRY
    DECLARE c CURSOR LOCAL FORWARD_ONLY STATIC FOR
      SELECT boat_name FROM boat ORDER BY boat_id;
    OPEN c;
    WHILE 1 = 1
    BEGIN
      FETCH NEXT FROM c INTO @v;
      IF @@FETCH_STATUS <> 0
      BEGIN
        SET @hs_message = N'no data found';
        THROW 50001, @hs_message, 1;
      END
      INSERT INTO log_entry (what) VALUES (@v);
    END
  END TRY
  BEGIN CATCH
    IF ERROR_NUMBER() IN (50001)
    BEGIN
      CLOSE c;
      DEALLOCATE c;
      INSERT INTO log_entry (what) VALUES ((CAST('last ' AS nvarchar(max)) + CAST(@v AS nvarchar(max))));
    END
    ELSE
    BEGIN
      ;THROW;
    END
  END CATCH
END;

-- procedure.p_block_ends: confirm
CREATE PROCEDURE p_block_ends @p int, @p_name nvarchar(40) OUTPUT
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @hs_message nvarchar(2048);
  SET @p_name = 'none';
  BEGIN TRY
    INSERT INTO log_entry (what) VALUES ('looked');
    SELECT @p_name = boat_name FROM boat WHERE boat_id = @p;
    IF @@ROWCOUNT = 0
    BEGIN
      SET @hs_message = N'no data found';
      THROW 50001, @hs_message, 1;
    END
    INSERT INTO log_entry (what) VALUES ('met');
  END TRY
  BEGIN CATCH
    IF ERROR_NUMBER() IN (50001)
    BEGIN
      SET @p_name = (CAST(@p_name AS nvarchar(max)) + CAST(' found' AS nvarchar(max)));
    END
    ELSE
    BEGIN
      ;THROW;
    END
  END CATCH
  INSERT INTO log_entry (what) VALUES (@p_name);
END;

-- procedure.p_row_again: drafted
CREATE PROCEDURE p_row_again
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @done int = 0;
  DECLARE @v nvarchar(40);
  DECLARE c CURSOR LOCAL FORWARD_ONLY STATIC FOR
    SELECT boat_name FROM boat ORDER BY boat_id;
  OPEN c;
  WHILE @done = 0
  BEGIN
    FETCH NEXT FROM c INTO @v;
    IF @@FETCH_STATUS <> 0
    BEGIN
      SET @done = 1;
      INSERT INTO log_entry (what) VALUES ('no more');
    END
    INSERT INTO log_entry (what) VALUES (@v);
  END
  CLOSE c;
  DEALLOCATE c;
END;

-- procedure.p_cursor_inside: confirm
CREATE PROCEDURE p_cursor_inside @p_list nvarchar(200) OUTPUT
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @done int = 0;
  DECLARE @n int;
  DECLARE @b int;
  DECLARE @at_end int;
  SET @p_list = '';
  DECLARE boats CURSOR LOCAL FORWARD_ONLY STATIC FOR
    SELECT boat_id FROM boat ORDER BY boat_id;
  OPEN boats;
  WHILE 1 = 1
  BEGIN
    FETCH NEXT FROM boats INTO @b;
    IF @@FETCH_STATUS <> 0
    BEGIN
      SET @done = 1;
    END
    IF @done <> 0
    BEGIN
      BREAK;
    END
    SET @at_end = 0;
    DECLARE stays CURSOR LOCAL FORWARD_ONLY STATIC FOR
      SELECT nights FROM stay WHERE boat_id = @b ORDER BY stay_id;
    OPEN stays;
    WHILE 1 = 1
    BEGIN
      FETCH NEXT FROM stays INTO @n;
      IF @@FETCH_STATUS <> 0
      BEGIN
        SET @at_end = 1;
      END
      IF @at_end <> 0
      BEGIN
        BREAK;
      END
      SET @p_list = (CAST(@p_list AS nvarchar(max)) + CAST(@b AS nvarchar(max)) + CAST(':' AS nvarchar(max)) + CAST(@n AS nvarchar(max)) + CAST(' ' AS nvarchar(max)));
    END
    CLOSE stays;
    DEALLOCATE stays;
  END
  CLOSE boats;
  DEALLOCATE boats;
END;

-- procedure.p_fetch_fails: drafted
CREATE PROCEDURE p_fetch_fails @p int
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @hs_message nvarchar(2048);
  DECLARE @v int;
  DECLARE c CURSOR LOCAL FORWARD_ONLY STATIC FOR
    SELECT nights FROM stay WHERE boat_id = @p;
  OPEN c;
  FETCH NEXT FROM c INTO @v;
  IF @@FETCH_STATUS <> 0
  BEGIN
    SET @hs_message = N'no data found';
    THROW 50001, @hs_message, 1;
  END
  INSERT INTO log_entry (what, amount) VALUES ('fetched', @v);
  CLOSE c;
  DEALLOCATE c;
END;

-- procedure.p_errors_and_ends: drafted
CREATE PROCEDURE p_errors_and_ends @p_count int OUTPUT
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @done int = 0;
  DECLARE @v nvarchar(40);
  SET @p_count = 0;
  DECLARE c CURSOR LOCAL FORWARD_ONLY STATIC FOR
    SELECT boat_name FROM boat ORDER BY boat_id;
  OPEN c;
  WHILE 1 = 1
  BEGIN
    FETCH NEXT FROM c INTO @v;
    IF @@FETCH_STATUS <> 0
    BEGIN
      SET @done = 1;
    END
    IF @done <> 0
    BEGIN
      BREAK;
    END
    SET @p_count = @p_count + 1;
    BEGIN TRY
      INSERT INTO tally (tally_key) VALUES ('one');
    END TRY
    BEGIN CATCH
      SET @done = 1;
    END CATCH
  END
  CLOSE c;
  DEALLOCATE c;
END;

-- view.v_boat: drafted
CREATE OR ALTER VIEW v_boat AS SELECT b.boat_id, b.boat_name, COALESCE(x.name, 'afloat') AS place, CASE WHEN (b.weight_t > 10) THEN 'heavy' ELSE 'light' END AS class FROM boat b LEFT JOIN berth x ON x.berth_id = b.berth_id;

-- constraint.berth_pk: as-is
ALTER TABLE berth ADD CONSTRAINT berth_pk PRIMARY KEY (berth_id);

-- constraint.boat_pk: as-is
ALTER TABLE boat ADD CONSTRAINT boat_pk PRIMARY KEY (boat_id);

-- constraint.stay_pk: as-is
ALTER TABLE stay ADD CONSTRAINT stay_pk PRIMARY KEY (stay_id);

-- constraint.log_entry_pk: as-is
ALTER TABLE log_entry ADD CONSTRAINT log_entry_pk PRIMARY KEY (log_id);

-- constraint.tally_pk: as-is
ALTER TABLE tally ADD CONSTRAINT tally_pk PRIMARY KEY (tally_key);

-- constraint.uk_berth_name: as-is
ALTER TABLE berth ADD CONSTRAINT uk_berth_name UNIQUE (name);

-- trigger.boat_bi: rewrite

-- trigger.berth_au: confirm
CREATE TRIGGER berth_au ON berth AFTER UPDATE
AS
BEGIN
  SET NOCOUNT ON;
  INSERT INTO log_entry (what, amount)
  SELECT (CAST(hs_old.name AS nvarchar(max)) + CAST(' > ' AS nvarchar(max)) + CAST(hs_new.name AS nvarchar(max))), hs_new.price - hs_old.price
  FROM inserted AS hs_new JOIN deleted AS hs_old ON hs_old.berth_id = hs_new.berth_id;
END;

-- trigger.stay_bd: confirm
CREATE TRIGGER stay_bd ON stay AFTER DELETE
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @hs_old_paid smallint;
  DECLARE @hs_message nvarchar(2048);
  DECLARE hs_changed CURSOR LOCAL FORWARD_ONLY STATIC FOR
    SELECT hs_old.paid FROM deleted AS hs_old;
  OPEN hs_changed;
  WHILE 1 = 1
  BEGIN
    FETCH NEXT FROM hs_changed INTO @hs_old_paid;
    IF @@FETCH_STATUS <> 0
    BEGIN
      BREAK;
    END
    IF (@hs_old_paid <> 0)
    BEGIN
      SET @hs_message = 'paid stays are kept';
      THROW 50000, @hs_message, 1;
    END
  END
  CLOSE hs_changed;
  DEALLOCATE hs_changed;
END;
