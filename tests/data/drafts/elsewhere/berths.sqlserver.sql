-- public.table.berth: drafted
CREATE TABLE [public].berth (
  id int IDENTITY(1,1) NOT NULL,
  name nvarchar(40) NOT NULL,
  depth decimal(5,2),
  free bit DEFAULT 1 NOT NULL,
  since datetime2(6)
);

-- public.function.depth_class(numeric): confirm
CREATE FUNCTION [public].depth_class(@d float(53))
RETURNS nvarchar(max)
AS
BEGIN
  IF @d IS NULL
  BEGIN
    RETURN 'unknown';
  END
  ELSE IF @d > 10
  BEGIN
    RETURN 'deep';
  END
  RETURN 'shallow';
END;

-- public.function.total_depth(integer): confirm
CREATE FUNCTION [public].total_depth(@p_from int)
RETURNS float(53)
AS
BEGIN
  DECLARE @s float(53) = 0;
  SELECT @s = COALESCE(SUM(depth), 0) FROM berth WHERE id >= @p_from;
  RETURN @s;
END;

-- public.procedure.close_berth(integer): confirm
CREATE PROCEDURE [public].close_berth @p_id int
AS
BEGIN
  SET NOCOUNT ON;
  UPDATE berth SET free = 0 WHERE id = @p_id;
END;

-- public.view.v_free: drafted
CREATE OR ALTER VIEW [public].v_free AS SELECT id, CAST(name AS nvarchar(max)) + CAST(' (' AS nvarchar(max)) + CAST(depth AS nvarchar(max)) + CAST(')' AS nvarchar(max)) AS label, CASE WHEN (free <> 0) THEN 'yes' ELSE 'no' END AS f FROM berth WHERE (free <> 0) AND depth > 3;

-- public.constraint.berth_pk: as-is
ALTER TABLE [public].berth ADD CONSTRAINT berth_pk PRIMARY KEY (id);
