-- A buoy register in Transact-SQL: rows that changes give out, JSON and XML as rows, defaults in calls, special indexes.
-- row buoy: {"buoyid": 1, "code": 'N1', "colour": 'red', "depth": 4}
-- row buoy: {"buoyid": 2, "code": 'N2', "colour": 'green', "depth": 6}
CREATE TABLE dbo.Buoy (BuoyID int IDENTITY(1,1) NOT NULL PRIMARY KEY, Code varchar(10) NOT NULL, Colour varchar(20) NULL, Depth decimal(6,2) NULL, Doc xml NULL, Extra sql_variant NULL)
GO
CREATE TABLE dbo.Setting (Name varchar(30) NOT NULL PRIMARY KEY, Value sql_variant NULL)
GO
CREATE PRIMARY XML INDEX PX_Buoy ON dbo.Buoy (Doc)
GO
CREATE NONCLUSTERED COLUMNSTORE INDEX CX_Buoy ON dbo.Buoy (Depth, BuoyID)
GO
CREATE STATISTICS ST_Buoy ON dbo.Buoy (Code, Colour)
GO
CREATE FULLTEXT INDEX ON dbo.Buoy (Colour LANGUAGE 2057) KEY INDEX PK_Buoy
GO
-- gives uspRaise(1): [] [[('N1', 4, 5), ('N2', 6, 7)]]
CREATE PROCEDURE dbo.uspRaise @By int AS
UPDATE dbo.Buoy SET Depth = Depth + @By OUTPUT inserted.Code, deleted.Depth AS Before, inserted.Depth
GO
-- gives uspDrop('N1'): [] [[('red',)]]
-- gives uspDrop('zz'): [] [[]]
CREATE PROCEDURE dbo.uspDrop @Code varchar(10) AS
BEGIN
  SET NOCOUNT ON;
  DELETE FROM dbo.Buoy OUTPUT deleted.Colour WHERE Code = @Code;
END
GO
-- gives uspSync('[{"code":"N1","colour":"blue"},{"code":"N9","colour":"white"}]'): [] [[('UPDATE', 'N1'), ('INSERT', 'N9')]]
-- leaves uspSync('[{"code":"N9"}]'); SELECT code, colour FROM dbo.buoy ORDER BY code: [('N1', 'red'), ('N2', 'green'), ('N9', None)]
CREATE PROCEDURE dbo.uspSync @Json nvarchar(max) AS
MERGE dbo.Buoy AS t USING (SELECT Code, Colour FROM OPENJSON(@Json) WITH (Code varchar(10) '$.code', Colour varchar(20) '$.colour')) AS s ON t.Code = s.Code
WHEN MATCHED THEN UPDATE SET Colour = s.Colour
WHEN NOT MATCHED THEN INSERT (Code, Colour) VALUES (s.Code, s.Colour)
OUTPUT $action, inserted.Code;
GO
-- gives fnPairs('{"a":1,"b":"x","c":[1]}'): 3
CREATE FUNCTION dbo.fnPairs(@Json nvarchar(max)) RETURNS int AS
BEGIN
  DECLARE @n int
  SELECT @n = COUNT(*) FROM OPENJSON(@Json) AS p WHERE p.value IS NOT NULL
  RETURN @n
END
GO

CREATE PROCEDURE dbo.uspLights @Doc xml AS
SELECT x.n.value('@code', 'varchar(10)') AS Code, x.n.value('@n', 'int') AS N, x.n.value('(c/text())[1]', 'varchar(20)') AS C, x.n.exist('c') AS HasC
FROM @Doc.nodes('/l/b') AS x(n)
GO

CREATE FUNCTION dbo.fnFirst(@Doc xml) RETURNS int AS
BEGIN
  RETURN @Doc.value('(/l/b)[1]', 'int')
END
GO
CREATE PROCEDURE dbo.uspSet @Name varchar(30), @Value sql_variant = 'none', @Times int OUTPUT AS
BEGIN
  UPDATE dbo.Setting SET Value = @Value WHERE Name = @Name
  IF @@ROWCOUNT = 0 INSERT INTO dbo.Setting (Name, Value) VALUES (@Name, @Value)
  SELECT @Times = COUNT(*) FROM dbo.Setting
END
GO
-- leaves uspDefaults(); SELECT name, value FROM dbo.setting ORDER BY name: [('a', 'none'), ('b', '5')]
CREATE PROCEDURE dbo.uspDefaults AS
BEGIN
  DECLARE @n int
  EXEC dbo.uspSet 'a', DEFAULT, @n OUTPUT
  EXEC dbo.uspSet 'b', '5', @n OUTPUT
END
GO
-- gives uspChain(3): [] [[(1, None), (2, 1), (3, 2)]]
CREATE PROCEDURE dbo.uspChain @n int AS
WITH c (Id, Before) AS (SELECT 1, NULL UNION ALL SELECT c.Id + 1, c.Id FROM c WHERE c.Id < @n) SELECT Id, Before FROM c ORDER BY Id
GO
-- gives fnMonth('2025-03-09'): '2025-03 (09)'
CREATE FUNCTION dbo.fnMonth(@d date) RETURNS varchar(20) AS BEGIN RETURN FORMAT(@d, 'yyyy-MM (dd)') END
GO
-- gives fnRounded(2.678): 2.7
CREATE FUNCTION dbo.fnRounded(@f float) RETURNS float AS BEGIN RETURN ROUND(@f, 1) END
GO
-- gives uspTwoTexts('N1'): [] [[(1,)]]
CREATE PROCEDURE dbo.uspTwoTexts @Code varchar(10) AS
BEGIN
  DECLARE @sql nvarchar(400)
  SET @sql = N'DELETE FROM dbo.Buoy WHERE Code = @c'
  EXEC sp_executesql @sql, N'@c varchar(10)', @c = @Code
  SET @sql = N'SELECT COUNT(*) FROM dbo.Buoy WHERE Code <> @c'
  EXEC sp_executesql @sql, N'@c varchar(10)', @c = @Code
END
GO
-- gives fnKept('1.7'): 2
-- gives fnKept('-1.7'): -2
CREATE FUNCTION dbo.fnKept(@By decimal(10,3)) RETURNS int AS
BEGIN
  DECLARE @n int
  SET @n = @By * 1.5
  RETURN @n
END
GO
-- gives fnGiven('1.7'): 2
CREATE FUNCTION dbo.fnGiven(@By decimal(10,3)) RETURNS int AS
BEGIN
  RETURN @By * 1.5
END
GO
-- gives fnHalved(7): 3
CREATE FUNCTION dbo.fnHalved(@n int) RETURNS int AS
BEGIN
  DECLARE @half int = @n / 2
  RETURN @half
END
GO
-- gives fnShort('abcdefgh'): 'abcde'
CREATE FUNCTION dbo.fnShort(@Text varchar(20)) RETURNS varchar(20) AS
BEGIN
  DECLARE @short varchar(5) = @Text
  RETURN @short
END
GO
CREATE TABLE dbo.Tally (Code varchar(10) NOT NULL PRIMARY KEY, Seen int NOT NULL)
GO
-- leaves uspCount('2.9'); SELECT code, seen FROM dbo.tally: [('N9', 2)]
CREATE PROCEDURE dbo.uspCount @Number decimal(6,2) AS
BEGIN
  INSERT INTO dbo.Tally (Code, Seen) VALUES ('N9', 0)
  UPDATE dbo.Tally SET Seen = @Number
END
GO
