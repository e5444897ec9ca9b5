-- sequence.bills_seq: drafted
CREATE SEQUENCE bills_seq AS bigint INCREMENT BY 1 START WITH 100;

-- sequence.journal_seq: drafted
CREATE SEQUENCE journal_seq AS bigint;

-- table.ports: drafted
CREATE TABLE ports (
  port_id int NOT NULL,
  port_name nvarchar(40) NOT NULL,
  parent_id int,
  zone nchar(1) DEFAULT 'N' NOT NULL,
  opened datetime2(0)
);

-- table.rates: drafted
CREATE TABLE rates (
  rate_code nvarchar(10) NOT NULL,
  amount decimal(10,2) NOT NULL,
  zone nchar(1) DEFAULT 'N',
  valid_from datetime2(0) DEFAULT SYSDATETIME() NOT NULL,
  valid_to datetime2(0)
);

-- table.calls: confirm
CREATE TABLE calls (
  call_id float(53) NOT NULL,
  port_id int NOT NULL,
  ship nvarchar(30) NOT NULL,
  tons decimal(8,1),
  hours decimal(6,2) DEFAULT 0,
  status nvarchar(4) DEFAULT 'OPEN',
  arrived datetime2(0) DEFAULT SYSDATETIME()
);

-- table.bills: confirm
CREATE TABLE bills (
  bill_id float(53) NOT NULL,
  call_id float(53) NOT NULL,
  total decimal(12,2),
  paid_on datetime2(0),
  note nvarchar(200)
);

-- table.journal: confirm
CREATE TABLE journal (
  entry_id float(53),
  what nvarchar(200),
  amount float(53),
  made_by nvarchar(30),
  made_at datetime2(6)
);

-- package.tariff_api: rewrite

-- function.net_of: confirm
CREATE FUNCTION net_of(@p_gross float(53), @p_rate float(53) = 21)
RETURNS float(53)
AS
BEGIN
  RETURN ROUND(@p_gross / (1 + @p_rate / 100), 2);
END;

-- function.net_default: rewrite

-- function.size_class: confirm
CREATE FUNCTION size_class(@p_tons decimal(8,1))
RETURNS nvarchar(max)
AS
BEGIN
  DECLARE @l_class nvarchar(10);
  IF @p_tons IS NULL
  BEGIN
    SET @l_class = 'unknown';
  END
  ELSE IF @p_tons < 100
  BEGIN
    SET @l_class = 'small';
  END
  ELSE IF @p_tons BETWEEN 100 AND 999
  BEGIN
    SET @l_class = 'medium';
  END
  ELSE
  BEGIN
    SET @l_class = 'large';
  END
  RETURN @l_class;
END;

-- function.port_name_of: confirm
CREATE FUNCTION port_name_of(@p_id int)
RETURNS nvarchar(40)
AS
BEGIN
  DECLARE @v_name nvarchar(40);
  SELECT @v_name = port_name FROM ports WHERE port_id = @p_id;
  IF @@ROWCOUNT = 0
  BEGIN
    RETURN '?';
  END
  RETURN @v_name;
END;

-- function.rate_on: confirm
CREATE FUNCTION rate_on(@p_code nvarchar(max), @p_day datetime2(0))
RETURNS float(53)
AS
BEGIN
  DECLARE @hs_c_rate_found bigint;
  DECLARE @l_amount float(53) = 0;
  DECLARE c_rate CURSOR LOCAL FORWARD_ONLY STATIC FOR
    SELECT amount FROM rates
     WHERE rate_code = @p_code
       AND @p_day >= valid_from
       AND @p_day < COALESCE(valid_to, DATEADD(day, 1, @p_day));
  OPEN c_rate;
  FETCH NEXT FROM c_rate INTO @l_amount;
  IF @@FETCH_STATUS = 0
  BEGIN
    SET @hs_c_rate_found = 1;
  END
  ELSE
  BEGIN
    SET @hs_c_rate_found = 0;
  END
  IF @hs_c_rate_found = 0
  BEGIN
    SET @l_amount = 0;
  END
  CLOSE c_rate;
  DEALLOCATE c_rate;
  RETURN @l_amount;
END;

-- function.path_of: confirm
CREATE FUNCTION path_of(@p_id float(53))
RETURNS nvarchar(max)
AS
BEGIN
  DECLARE @hs_message nvarchar(2048);
  DECLARE @hs_failed int;
  DECLARE @l_path nvarchar(400);
  DECLARE @l_id float(53) = @p_id;
  DECLARE @l_row_port_id int;
  DECLARE @l_row_port_name nvarchar(40);
  DECLARE @l_row_parent_id int;
  DECLARE @l_row_zone nchar(1);
  DECLARE @l_row_opened datetime2(0);
  WHILE @l_id IS NOT NULL
  BEGIN
    SELECT @l_row_port_id = port_id, @l_row_port_name = port_name, @l_row_parent_id = parent_id, @l_row_zone = zone, @l_row_opened = opened FROM ports WHERE port_id = @l_id;
    IF @@ROWCOUNT = 0
    BEGIN
      SET @hs_message = N'no data found';
      SET @hs_failed = CAST(@hs_message AS int);
    END
    IF @l_path IS NULL
    BEGIN
      SET @l_path = @l_row_port_name;
    END
    ELSE
    BEGIN
      SET @l_path = CONCAT(@l_row_port_name, '/', @l_path);
    END
    SET @l_id = @l_row_parent_id;
  END
  RETURN @l_path;
END;

-- function.tons_of: confirm
CREATE FUNCTION tons_of(@p_ship nvarchar(max))
RETURNS float(53)
AS
BEGIN
  DECLARE @l_sum float(53);
  SELECT @l_sum = SUM(tons) FROM calls WHERE UPPER(ship) = UPPER(@p_ship);
  RETURN COALESCE(@l_sum, 0);
END;

-- function.ship_list: confirm
CREATE FUNCTION ship_list(@p_port float(53))
RETURNS nvarchar(max)
AS
BEGIN
  DECLARE @l_out nvarchar(4000);
  DECLARE @hs_r_ship nvarchar(30);
  DECLARE @hs_rows1_found bigint;
  DECLARE hs_rows1 CURSOR LOCAL FORWARD_ONLY STATIC FOR
    SELECT ship FROM calls WHERE port_id = @p_port ORDER BY ship;
  OPEN hs_rows1;
  WHILE 1 = 1
  BEGIN
    FETCH NEXT FROM hs_rows1 INTO @hs_r_ship;
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
    SET @l_out = NULLIF(CONCAT(@l_out, CASE WHEN @l_out IS NOT NULL THEN ', ' END, @hs_r_ship), '');
  END
  CLOSE hs_rows1;
  DEALLOCATE hs_rows1;
  RETURN @l_out;
END;

-- function.days_late: confirm
CREATE FUNCTION days_late(@p_due datetime2(0), @p_paid datetime2(0))
RETURNS int
AS
BEGIN
  RETURN ROUND((CASE WHEN ROUND((CAST(DATEDIFF_BIG(second, @p_due, @p_paid) AS decimal(38, 20)) / 86400), 0, 1) IS NOT NULL THEN GREATEST(ROUND((CAST(DATEDIFF_BIG(second, @p_due, @p_paid) AS decimal(38, 20)) / 86400), 0, 1), 0) END), 0);
END;

-- function.next_quarter: confirm
CREATE FUNCTION next_quarter(@p_day datetime2(0))
RETURNS datetime2(0)
AS
BEGIN
  RETURN (CASE WHEN CAST(CAST(DATEFROMPARTS(YEAR(@p_day), (MONTH(@p_day) - 1) / 3 * 3 + 1, 1) AS datetime2(0)) AS date) = EOMONTH(CAST(DATEFROMPARTS(YEAR(@p_day), (MONTH(@p_day) - 1) / 3 * 3 + 1, 1) AS datetime2(0))) THEN DATEADD(day, DAY(EOMONTH(DATEADD(month, 3, CAST(DATEFROMPARTS(YEAR(@p_day), (MONTH(@p_day) - 1) / 3 * 3 + 1, 1) AS datetime2(0))))) - DAY(DATEADD(month, 3, CAST(DATEFROMPARTS(YEAR(@p_day), (MONTH(@p_day) - 1) / 3 * 3 + 1, 1) AS datetime2(0)))), DATEADD(month, 3, CAST(DATEFROMPARTS(YEAR(@p_day), (MONTH(@p_day) - 1) / 3 * 3 + 1, 1) AS datetime2(0)))) ELSE DATEADD(month, 3, CAST(DATEFROMPARTS(YEAR(@p_day), (MONTH(@p_day) - 1) / 3 * 3 + 1, 1) AS datetime2(0))) END);
END;

-- function.month_key: confirm
CREATE FUNCTION month_key(@p_day datetime2(0))
RETURNS nvarchar(max)
AS
BEGIN
  RETURN FORMAT(@p_day, 'yyyy-MM', 'en-US');
END;

-- function.is_weekend: confirm
CREATE FUNCTION is_weekend(@p_day datetime2(0))
RETURNS float(53)
AS
BEGIN
  IF CAST(((DATEPART(weekday, @p_day) + @@DATEFIRST - 1) % 7 + 1) AS nvarchar(10)) IN ('1', '7')
  BEGIN
    RETURN 1;
  END
  RETURN 0;
END;

-- function.hours_between: confirm
CREATE FUNCTION hours_between(@p_from datetime2(0), @p_to datetime2(0))
RETURNS float(53)
AS
BEGIN
  RETURN ROUND(((CAST(DATEDIFF_BIG(second, @p_from, @p_to) AS decimal(38, 20)) / 86400)) * 24, 2);
END;

-- function.initials: rewrite

-- function.count_words: rewrite

-- function.nth_part: rewrite

-- function.fact: confirm
CREATE FUNCTION fact(@n int)
RETURNS float(53)
AS
BEGIN
  IF @n <= 1
  BEGIN
    RETURN 1;
  END
  RETURN @n * dbo.fact(@n - 1);
END;

-- function.fib: confirm
CREATE FUNCTION fib(@p_n int)
RETURNS float(53)
AS
BEGIN
  DECLARE @a float(53) = 0;
  DECLARE @b float(53) = 1;
  DECLARE @t float(53);
  DECLARE @i bigint;
  DECLARE @hs_end1 bigint;
  SET @i = 1;
  SET @hs_end1 = @p_n;
  WHILE @i <= @hs_end1
  BEGIN
    SET @t = @a + @b;
    SET @a = @b;
    SET @b = @t;
    SET @i = @i + 1;
  END
  RETURN @a;
END;

-- function.gcd_of: rewrite

-- function.safe_div: rewrite

-- function.to_num: rewrite

-- function.sum_list: rewrite

-- function.nested_list: rewrite

-- function.bulk_ships: rewrite

-- function.map_zone: rewrite

-- function.tree_depth: rewrite

-- function.record_use: confirm
CREATE FUNCTION record_use(@p_id float(53))
RETURNS nvarchar(max)
AS
BEGIN
  DECLARE @hs_message nvarchar(2048);
  DECLARE @hs_failed int;
  DECLARE @l_rec_name nvarchar(40);
  DECLARE @l_rec_zone nchar(1);
  SELECT @l_rec_name = port_name, @l_rec_zone = zone FROM ports WHERE port_id = @p_id;
  IF @@ROWCOUNT = 0
  BEGIN
    SET @hs_message = N'no data found';
    SET @hs_failed = CAST(@hs_message AS int);
  END
  RETURN CONCAT(@l_rec_name, '/', @l_rec_zone);
END;

-- function.outer_old: rewrite

-- function.top_ship: confirm
CREATE FUNCTION top_ship()
RETURNS nvarchar(max)
AS
BEGIN
  DECLARE @hs_message nvarchar(2048);
  DECLARE @hs_failed int;
  DECLARE @hs_rows int;
  DECLARE @l_ship nvarchar(30);
  SELECT @l_ship = ship FROM (SELECT TOP (1) ship, SUM(tons) t FROM calls GROUP BY ship ORDER BY t DESC ) AS hs_rows1;
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
  RETURN @l_ship;
END;

-- function.decode_status: confirm
CREATE FUNCTION decode_status(@p_id float(53))
RETURNS nvarchar(max)
AS
BEGIN
  DECLARE @hs_message nvarchar(2048);
  DECLARE @hs_failed int;
  DECLARE @l nvarchar(30);
  SELECT @l = CONCAT(CASE WHEN status = 'OPEN' THEN 'open' WHEN status = 'PAID' THEN 'paid' ELSE LOWER(status) END, ' (', IIF(NULLIF(status, 'VOID') IS NOT NULL, 'Y', 'N'), ')') FROM calls WHERE call_id = @p_id;
  IF @@ROWCOUNT = 0
  BEGIN
    SET @hs_message = N'no data found';
    SET @hs_failed = CAST(@hs_message AS int);
  END
  RETURN @l;
END;

-- function.exists_call: confirm
CREATE FUNCTION exists_call(@p_ship nvarchar(max))
RETURNS float(53)
AS
BEGIN
  DECLARE @hs_message nvarchar(2048);
  DECLARE @hs_failed int;
  DECLARE @hs_rows int;
  DECLARE @l_n int;
  SELECT @l_n = 1 WHERE EXISTS (SELECT NULL FROM calls WHERE ship = @p_ship);
  SET @hs_rows = @@ROWCOUNT;
  IF @hs_rows = 0
  BEGIN
    RETURN 0;
  END
  ELSE IF @hs_rows > 1
  BEGIN
    SET @hs_message = N'several rows found';
    SET @hs_failed = CAST(@hs_message AS int);
  END
  RETURN @l_n;
END;

-- function.cursor_param: confirm
CREATE FUNCTION cursor_param()
RETURNS nvarchar(max)
AS
BEGIN
  DECLARE @hs_c_ports_cp_zone nvarchar(max);
  DECLARE @l_out nvarchar(100);
  DECLARE @l_n float(53);
  DECLARE @hs_p_port_name nvarchar(40);
  DECLARE @hs_rows2_found bigint;
  DECLARE @hs_z_zone nchar(1);
  DECLARE @hs_rows1_found bigint;
  DECLARE hs_rows1 CURSOR LOCAL FORWARD_ONLY STATIC FOR
    SELECT DISTINCT zone FROM ports ORDER BY zone;
  OPEN hs_rows1;
  WHILE 1 = 1
  BEGIN
    FETCH NEXT FROM hs_rows1 INTO @hs_z_zone;
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
    SET @l_n = 0;
    SET @hs_c_ports_cp_zone = @hs_z_zone;
    DECLARE hs_rows2 CURSOR LOCAL FORWARD_ONLY STATIC FOR
      SELECT port_name FROM ports WHERE zone = @hs_c_ports_cp_zone;
    OPEN hs_rows2;
    WHILE 1 = 1
    BEGIN
      FETCH NEXT FROM hs_rows2 INTO @hs_p_port_name;
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
      SET @l_n = @l_n + 1;
    END
    CLOSE hs_rows2;
    DEALLOCATE hs_rows2;
    SET @l_out = CONCAT(@l_out, @hs_z_zone, '=', CASE WHEN @l_n = 0 THEN '0' ELSE FORMAT(@l_n, '#.############################', 'en-US') END, ' ');
  END
  CLOSE hs_rows1;
  DEALLOCATE hs_rows1;
  RETURN @l_out;
END;

-- function.labels: confirm
CREATE FUNCTION labels()
RETURNS float(53)
AS
BEGIN
  DECLARE @hs_jumped int;
  DECLARE @l_n float(53) = 0;
  DECLARE @j bigint;
  DECLARE @i bigint;
  DECLARE @hs_end2 bigint;
  DECLARE @hs_end1 bigint;
  SET @i = 1;
  SET @hs_end1 = 5;
  WHILE @i <= @hs_end1
  BEGIN
    SET @j = 1;
    SET @hs_end2 = 5;
    WHILE @j <= @hs_end2
    BEGIN
      IF @i * @j > 6
      BEGIN
        GOTO hs_loop1_end;
      END
      IF (@j % 2) = 0
      BEGIN
        GOTO hs_loop2_next;
      END
      SET @l_n = @l_n + 1;
      hs_loop2_next: SET @hs_jumped = 1;
      SET @j = @j + 1;
    END
    SET @i = @i + 1;
  END
  hs_loop1_end: SET @hs_jumped = 1;
  RETURN @l_n;
END;

-- function.too_many: rewrite

-- function.own_error: rewrite

-- function.analytic: rewrite

-- function.with_clause: rewrite

-- function.minus_count: confirm
CREATE FUNCTION minus_count()
RETURNS float(53)
AS
BEGIN
  DECLARE @l float(53);
  SELECT @l = COUNT(*) FROM (SELECT call_id FROM calls EXCEPT SELECT call_id FROM bills) AS hs_rows1;
  RETURN @l;
END;

-- function.keep_first: confirm
CREATE FUNCTION keep_first()
RETURNS nvarchar(max)
AS
BEGIN
  DECLARE @l nvarchar(30);
  SELECT @l = MAX(CASE WHEN hs_rank1 = 1 THEN ship END) FROM (SELECT calls.*, DENSE_RANK() OVER (ORDER BY CASE WHEN arrived IS NULL THEN 1 ELSE 0 END, arrived) AS hs_rank1 FROM calls) calls;
  RETURN @l;
END;

-- function.open_calls_cursor: confirm
CREATE PROCEDURE open_calls_cursor
AS
BEGIN
  SET NOCOUNT ON;
  SELECT hours FROM calls WHERE status <> 'VOID' AND hours > 2.5 ORDER BY CASE WHEN hours IS NULL THEN 1 ELSE 0 END, 1;
  RETURN;
END;

-- function.ref_total: rewrite

-- function.use_state: rewrite

-- function.use_rebate: rewrite

-- function.use_price: rewrite

-- function.use_constant: confirm
CREATE FUNCTION use_constant()
RETURNS float(53)
AS
BEGIN
  RETURN 2 * 24;
END;

-- procedure.log_it: confirm
CREATE PROCEDURE log_it @p_what nvarchar(max), @p_amount float(53) = NULL
AS
BEGIN
  SET NOCOUNT ON;
  INSERT INTO journal (what, amount, made_by) VALUES (SUBSTRING(@p_what, 1, 200), @p_amount, 'office');
END;

-- procedure.make_bill: rewrite

-- procedure.bill_all: confirm
CREATE PROCEDURE bill_all
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @l_bill float(53);
  DECLARE @l_n int = 0;
  DECLARE @hs_given3 nvarchar(max);
  DECLARE @hs_r_call_id float(53);
  DECLARE @hs_rows1_found bigint;
  DECLARE hs_rows1 CURSOR LOCAL FORWARD_ONLY STATIC FOR
    SELECT call_id FROM calls WHERE status = 'OPEN' ORDER BY call_id;
  OPEN hs_rows1;
  WHILE 1 = 1
  BEGIN
    FETCH NEXT FROM hs_rows1 INTO @hs_r_call_id;
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
    BEGIN TRY
      EXEC make_bill @hs_r_call_id, @l_bill OUTPUT;
      SET @l_n = @l_n + 1;
    END TRY
    BEGIN CATCH
      IF ERROR_NUMBER() IN (2601, 2627)
      BEGIN
        SET @hs_given3 = CONCAT('twice: ', CASE WHEN @hs_r_call_id = 0 THEN '0' ELSE FORMAT(@hs_r_call_id, '#.############################', 'en-US') END);
        EXEC log_it @hs_given3, NULL;
      END
      ELSE
      BEGIN
        ;THROW;
      END
    END CATCH
  END
  CLOSE hs_rows1;
  DEALLOCATE hs_rows1;
  EXEC log_it 'billed', @l_n;
END;

-- procedure.void_old: confirm
CREATE PROCEDURE void_old @p_before datetime2(0)
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @hs_rows_changed bigint;
  UPDATE calls SET status = 'VOID' WHERE arrived < CAST(CAST(@p_before AS date) AS datetime2(0)) AND status = 'OPEN';
  SET @hs_rows_changed = @@ROWCOUNT;
  IF @hs_rows_changed > 0
  BEGIN
    EXEC log_it 'voided', @hs_rows_changed;
  END
END;

-- procedure.forall_raise: rewrite

-- procedure.merge_rate: confirm
CREATE PROCEDURE merge_rate @p_code nvarchar(max), @p_amount float(53)
AS
BEGIN
  SET NOCOUNT ON;
  MERGE INTO rates r
  USING (SELECT @p_code AS code, @p_amount AS amount ) s
  ON (r.rate_code = s.code)
  WHEN MATCHED THEN UPDATE SET amount = s.amount
  WHEN NOT MATCHED THEN INSERT (rate_code, amount, valid_from) VALUES (s.code, s.amount, CAST('2024-01-01' AS date));
END;

-- procedure.cursor_update: confirm
CREATE PROCEDURE cursor_update
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @hs_r_call_id float(53);
  DECLARE @hs_r_hours decimal(6,2);
  DECLARE @hs_rows1_found bigint;
  DECLARE hs_rows1 CURSOR LOCAL FORWARD_ONLY STATIC FOR
    SELECT call_id, hours FROM calls WITH (UPDLOCK, ROWLOCK) WHERE port_id = 2 ;
  OPEN hs_rows1;
  WHILE 1 = 1
  BEGIN
    FETCH NEXT FROM hs_rows1 INTO @hs_r_call_id, @hs_r_hours;
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
    UPDATE calls SET hours = @hs_r_hours + 1 WHERE call_id = @hs_r_call_id;
  END
  CLOSE hs_rows1;
  DEALLOCATE hs_rows1;
END;

-- procedure.delete_returning: rewrite

-- procedure.dynamic_delete: confirm
CREATE PROCEDURE dynamic_delete @p_table nvarchar(max)
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @hs_text nvarchar(max);
  EXEC log_it 'before', NULL;
  SET @hs_text = CONCAT('DELETE FROM ', @p_table, ' WHERE 1 = 1');
  EXEC sp_executesql @hs_text;
END;

-- procedure.dynamic_count: confirm
CREATE PROCEDURE dynamic_count @p_zone nvarchar(max), @p_n float(53) OUTPUT
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @l_sql nvarchar(400);
  DECLARE @hs_text nvarchar(max);
  SET @l_sql = 'SELECT COUNT(*) FROM ports WHERE zone = @hs_1 AND COALESCE(parent_id, 0) >= @hs_2';
  SET @hs_text = CONCAT('SELECT @hs_into_1 = hs_1 FROM (', @l_sql, ') AS hs_rows (hs_1)');
  EXEC sp_executesql @hs_text, N'@hs_1 nvarchar(max), @hs_2 bigint, @hs_into_1 float(53) OUTPUT', @p_zone, 0, @p_n OUTPUT;
END;

-- procedure.out_all: confirm
CREATE PROCEDURE out_all @p_id float(53), @p_name nvarchar(max) OUTPUT, @p_zone nvarchar(max) OUTPUT, @p_calls float(53) OUTPUT
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @hs_message nvarchar(2048);
  SELECT @p_name = p.port_name, @p_zone = p.zone, @p_calls = (SELECT COUNT(*) FROM calls c WHERE c.port_id = p.port_id) FROM ports p WHERE p.port_id = @p_id;
  IF @@ROWCOUNT = 0
  BEGIN
    SET @hs_message = N'no data found';
    THROW 50001, @hs_message, 1;
  END
END;

-- procedure.use_out: rewrite

-- procedure.swap: confirm
CREATE PROCEDURE swap @a float(53) OUTPUT, @b float(53) OUTPUT
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @t float(53) = @a;
  SET @a = @b;
  SET @b = @t;
END;

-- procedure.local_routines: rewrite

-- procedure.catch_all: rewrite

-- procedure.reraise: confirm
CREATE PROCEDURE reraise
AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @hs_message nvarchar(2048);
  DECLARE @hs_given1 nvarchar(max);
  BEGIN TRY
    SET @hs_message = 'broken';
    THROW 50000, @hs_message, 1;
  END TRY
  BEGIN CATCH
    SET @hs_given1 = ERROR_MESSAGE();
    EXEC log_it @hs_given1, NULL;
    ;THROW;
  END CATCH
END;

-- procedure.savepoints: rewrite

-- procedure.insert_select: confirm
CREATE PROCEDURE insert_select
AS
BEGIN
  SET NOCOUNT ON;
  INSERT INTO journal (entry_id, what, amount)
  SELECT NEXT VALUE FOR journal_seq, ship, tons FROM calls WHERE port_id = (SELECT MIN(port_id) FROM calls) AND tons IS NOT NULL;
END;

-- procedure.update_subquery: confirm
CREATE PROCEDURE update_subquery
AS
BEGIN
  SET NOCOUNT ON;
  UPDATE b SET b.note = (SELECT CONCAT(c.ship, ' ', FORMAT(c.arrived, 'yyyy-MM-dd', 'en-US')) FROM calls c WHERE c.call_id = b.call_id) FROM bills b WHERE EXISTS (SELECT 1 FROM calls c WHERE c.call_id = b.call_id);
END;

-- procedure.tuple_update: confirm
CREATE PROCEDURE tuple_update
AS
BEGIN
  SET NOCOUNT ON;
  UPDATE p SET port_name = (SELECT q.port_name FROM ports q WHERE q.port_id = p.parent_id), zone = (SELECT q.zone FROM ports q WHERE q.port_id = p.parent_id) FROM ports p WHERE p.port_id = 4;
END;

-- procedure.fire_status: confirm
CREATE PROCEDURE fire_status
AS
BEGIN
  SET NOCOUNT ON;
  UPDATE calls SET status = 'VOID' WHERE status = 'OPEN';
END;

-- procedure.fire_bill: confirm
CREATE PROCEDURE fire_bill
AS
BEGIN
  SET NOCOUNT ON;
  INSERT INTO bills (call_id) VALUES (12);
END;

-- procedure.fire_negative: confirm
CREATE PROCEDURE fire_negative
AS
BEGIN
  SET NOCOUNT ON;
  UPDATE bills SET total = -1;
END;

-- package_body.tariff_api: rewrite

-- view.v_tree: confirm
CREATE OR ALTER VIEW v_tree AS
WITH hs_tree AS (
  SELECT ports.*, 1 AS hs_level
    FROM ports AS ports
   WHERE parent_id IS NULL
  UNION ALL
  SELECT ports.*, hs_above.hs_level + 1
    FROM ports AS ports
    JOIN hs_tree AS hs_above ON hs_above.port_id = ports.parent_id
)
SELECT hs_level lvl, port_id, port_name
FROM hs_tree AS ports;

-- constraint.ports_pk: as-is
ALTER TABLE ports ADD CONSTRAINT ports_pk PRIMARY KEY (port_id);

-- constraint.rates_pk: as-is
ALTER TABLE rates ADD CONSTRAINT rates_pk PRIMARY KEY (rate_code);

-- constraint.calls_pk: as-is
ALTER TABLE calls ADD CONSTRAINT calls_pk PRIMARY KEY (call_id);

-- constraint.bills_pk: as-is
ALTER TABLE bills ADD CONSTRAINT bills_pk PRIMARY KEY (bill_id);

-- constraint.bills_call_uk: as-is
ALTER TABLE bills ADD CONSTRAINT bills_call_uk UNIQUE (call_id);

-- constraint.ports_zone_ck: as-is
ALTER TABLE ports ADD CONSTRAINT ports_zone_ck CHECK (zone IN ('N', 'S'));

-- constraint.calls_status_ck: as-is
ALTER TABLE calls ADD CONSTRAINT calls_status_ck CHECK (status IN ('OPEN','PAID','VOID'));

-- constraint.ports_parent_fk: as-is
ALTER TABLE ports ADD CONSTRAINT ports_parent_fk FOREIGN KEY (parent_id) REFERENCES ports (port_id);

-- constraint.calls_port_id_fk: as-is
ALTER TABLE calls ADD CONSTRAINT calls_port_id_fk FOREIGN KEY (port_id) REFERENCES ports (port_id);

-- constraint.bills_call_fk: as-is
ALTER TABLE bills ADD CONSTRAINT bills_call_fk FOREIGN KEY (call_id) REFERENCES calls (call_id) ON DELETE CASCADE;

-- index.calls_ship_ix: rewrite

-- view.v_traffic: drafted
CREATE OR ALTER VIEW v_traffic AS
SELECT p.port_id, p.port_name, COUNT(c.call_id) n, COALESCE(SUM(c.tons), 0) tons
  FROM ports p LEFT JOIN calls c ON c.port_id = p.port_id
 GROUP BY p.port_id, p.port_name;

-- view.v_ships: confirm
CREATE OR ALTER VIEW v_ships (zone, ships) AS
SELECT p.zone, STRING_AGG(CAST(c.ship AS nvarchar(max)), '/') WITHIN GROUP (ORDER BY c.ship)
  FROM ports p INNER JOIN calls c ON c.port_id = p.port_id
 GROUP BY p.zone;

-- trigger.journal_bi: rewrite

-- trigger.calls_status_au: confirm
CREATE TRIGGER calls_status_au ON calls AFTER UPDATE
AS
BEGIN
  SET NOCOUNT ON;
  IF NOT (UPDATE(status))
    RETURN;
  DECLARE @hs_old_call_id float(53);
  DECLARE @hs_old_status nvarchar(4);
  DECLARE @hs_new_status nvarchar(4);
  DECLARE @hs_given1 nvarchar(max);
  DECLARE hs_changed CURSOR LOCAL FORWARD_ONLY STATIC FOR
    SELECT hs_old.call_id, hs_old.status, hs_new.status FROM inserted AS hs_new JOIN deleted AS hs_old ON hs_old.call_id = hs_new.call_id;
  OPEN hs_changed;
  WHILE 1 = 1
  BEGIN
    FETCH NEXT FROM hs_changed INTO @hs_old_call_id, @hs_old_status, @hs_new_status;
    IF @@FETCH_STATUS <> 0
    BEGIN
      BREAK;
    END
    SET @hs_given1 = NULL;
    IF @hs_new_status <> @hs_old_status
    BEGIN
      SET @hs_given1 = CONCAT('call ', CASE WHEN @hs_old_call_id = 0 THEN '0' ELSE FORMAT(@hs_old_call_id, '#.############################', 'en-US') END, ': ', @hs_old_status, '->', @hs_new_status);
      EXEC log_it @hs_given1, NULL;
    END
  END
  CLOSE hs_changed;
  DEALLOCATE hs_changed;
END;

-- trigger.bills_biu: rewrite
