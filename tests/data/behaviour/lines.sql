-- Mooring lines in Transact-SQL: common tables before assignments and changes, bits that are counted, whole numbers that stay whole.
-- row line: {"id": 1, "metres": 40, "worn": False, "kind": 'rope'}
-- row line: {"id": 2, "metres": 55, "worn": True, "kind": 'wire'}
-- row line: {"id": 3, "metres": 55, "worn": True, "kind": 'wire'}
CREATE TABLE dbo.Line (ID int NOT NULL PRIMARY KEY, Metres int NOT NULL, Worn bit NOT NULL, Kind varchar(10) NULL)
GO
-- gives uspCount(45): [2, 'wire']
CREATE PROCEDURE dbo.uspCount @Least int, @N int OUTPUT, @Last varchar(10) OUTPUT AS
BEGIN
  SET NOCOUNT ON
  ;WITH long AS (SELECT ID, Kind FROM dbo.Line WHERE Metres > @Least)
  SELECT @N = COUNT(*) FROM long
  ;WITH long AS (SELECT ID, Kind FROM dbo.Line WHERE Metres > @Least)
  SELECT @Last = Kind FROM long ORDER BY ID
END
GO
-- gives uspKinds(): ['rope,wire,wire']
CREATE PROCEDURE dbo.uspKinds @All varchar(100) OUTPUT AS
BEGIN
  WITH kinds AS (SELECT TOP 10 Kind, ID FROM dbo.Line ORDER BY ID)
  SELECT @All = ISNULL(@All + ',', '') + Kind FROM kinds ORDER BY ID
END
GO
-- leaves uspTidy(); SELECT id, metres FROM line ORDER BY id: [(1, 41), (2, 55)]
CREATE PROCEDURE dbo.uspTidy AS
BEGIN
  ;WITH l AS (SELECT ID, Metres FROM dbo.Line)
  UPDATE l SET Metres = Metres + 1 WHERE ID = 1
  ;WITH l AS (SELECT ID, ROW_NUMBER() OVER (PARTITION BY Kind, Metres ORDER BY ID) AS n FROM dbo.Line)
  DELETE FROM l WHERE n > 1
END
GO
-- gives fnWorn(1): 2
CREATE FUNCTION dbo.fnWorn (@Also bit) RETURNS int AS
BEGIN
  DECLARE @n int
  SELECT @n = SUM(CAST(Worn AS int)) FROM dbo.Line WHERE Worn = @Also
  IF @Also + @n > 5 RETURN -1
  RETURN @n + @Also - 1
END
GO
-- gives fnThird(100): 33
-- gives fnThird(10): 3
CREATE FUNCTION dbo.fnThird (@n int) RETURNS decimal(10,4) AS
BEGIN
  RETURN FLOOR(@n) / 3
END
GO
-- gives uspFirst(): [1, 'rope']
CREATE PROCEDURE dbo.uspFirst @Id int OUTPUT, @Kind varchar(10) OUTPUT AS
BEGIN
  DECLARE c CURSOR FOR SELECT ID, Kind FROM dbo.Line WHERE Metres > 1 ORDER BY ID
  OPEN c
  FETCH NEXT FROM c INTO @Id, @Kind
  WHILE @@FETCH_STATUS = 0 AND @Id < 1
  BEGIN
    SELECT @Kind = Kind FROM dbo.Line WHERE ID = @Id
    FETCH NEXT FROM c INTO @Id, @Kind
  END
  CLOSE c
  DEALLOCATE c
END
GO
-- gives uspLast(50): [3, 'wire', 2]
-- gives uspLast(99): [None, 'none', 0]
CREATE PROCEDURE dbo.uspLast @Least int, @Id int OUTPUT, @Kind varchar(10) OUTPUT, @N int OUTPUT AS
BEGIN
  SELECT @Kind = 'none', @N = 0
  DECLARE c CURSOR FOR SELECT ID, Kind FROM dbo.Line WHERE Metres > @Least ORDER BY ID
  OPEN c
  FETCH NEXT FROM c INTO @Id, @Kind
  WHILE @@FETCH_STATUS = 0
  BEGIN
    SET @N = @N + 1
    FETCH NEXT FROM c INTO @Id, @Kind
  END
  CLOSE c
  DEALLOCATE c
END
GO
-- gives uspTake('rope'): [5, 0]
-- gives uspTake('silk'): [None, -7]
CREATE PROCEDURE dbo.uspTake @Kind varchar(10), @Left int OUTPUT, @Err int OUTPUT AS
BEGIN
  DECLARE @n int, @code int
  SELECT @code = -7, @Err = 0
  BEGIN TRANSACTION
  UPDATE dbo.Line SET Metres = Metres - 35 WHERE Kind = @Kind
  SELECT @n = @@ROWCOUNT
  IF @n <> 1
  BEGIN
    ROLLBACK TRANSACTION
    SET @Err = @code
    RETURN @code
  END
  SELECT @Left = Metres FROM dbo.Line WHERE Kind = @Kind
  COMMIT TRANSACTION
  RETURN 0
END
GO
-- gives fnTag('abcdef', 1.256): ['abc1.26']
-- gives fnTag('a', 2): ['a2.00']
CREATE FUNCTION dbo.fnTag(@Code varchar(3), @Rate decimal(5,2)) RETURNS varchar(30) AS
BEGIN
  RETURN @Code + CONVERT(varchar(20), @Rate)
END
GO
-- gives fnOfKind('ropes and more'): [1]
CREATE FUNCTION dbo.fnOfKind(@Kind varchar(4)) RETURNS TABLE AS
  RETURN (SELECT ID FROM dbo.Line WHERE Kind = @Kind)
GO
-- gives uspFlag('yes', 'x', 'none', 2.5): ['y', 'n', 3]
CREATE PROCEDURE dbo.uspFlag @Given varchar(10), @Flag char(1) OUTPUT, @First char(1) OUTPUT, @Whole decimal(5,0) OUTPUT AS
BEGIN
  SET @Flag = @Given
END
GO
