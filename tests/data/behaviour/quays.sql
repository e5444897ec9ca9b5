-- The quays of Kestrel Bay in Transact-SQL: savepoints, cursors that move, sums of moments, weeks, words, paths, versions.
-- row quay: {"quayid": 1, "name": "North", "notes": "Deep water, crane and fresh water", "uses": 1, "openedat": "2024-03-01 08:00:00", "opens": "06:30:00"}
-- row quay: {"quayid": 2, "name": "South", "notes": "Shallow; yachts only", "uses": 2, "openedat": "2024-03-04 09:30:00", "opens": "07:00:00", "isclosed": True}
-- row quay: {"quayid": 3, "name": "East", "notes": None, "uses": 30, "openedat": "2024-12-31 23:00:00", "opens": "00:00:00"}
-- row unit: {"unitid": 1, "node": "{}", "title": "Harbour"}
-- row unit: {"unitid": 2, "node": "{1}", "title": "Quays"}
-- row unit: {"unitid": 3, "node": "{1,1}", "title": "North quay"}
-- row unit: {"unitid": 4, "node": "{2}", "title": "Office"}
CREATE TABLE dbo.Quay (
    QuayID int IDENTITY(1,1) NOT NULL PRIMARY KEY, Name varchar(40) NOT NULL, Notes nvarchar(200) NULL,
    Uses int NOT NULL DEFAULT 0, OpenedAt datetime NULL, Opens time(0) NULL, IsClosed bit NOT NULL DEFAULT 0,
    Label AS (LTRIM(ISNULL(Name + ': ', '') + Notes))
)
GO
CREATE FULLTEXT INDEX ON dbo.Quay (Notes) KEY INDEX PK_Quay
GO
CREATE TABLE dbo.Unit (UnitID int NOT NULL PRIMARY KEY, Node hierarchyid NOT NULL, Depth AS Node.GetLevel(), Title nvarchar(50) NOT NULL)
GO
CREATE TABLE dbo.Fee (
    FeeID int NOT NULL PRIMARY KEY, Amount money NOT NULL,
    FromWhen datetime2 GENERATED ALWAYS AS ROW START HIDDEN NOT NULL, ToWhen datetime2 GENERATED ALWAYS AS ROW END HIDDEN NOT NULL,
    PERIOD FOR SYSTEM_TIME (FromWhen, ToWhen)
) WITH (SYSTEM_VERSIONING = ON (HISTORY_TABLE = dbo.FeeBefore))
GO
-- row fee: {"feeid": 1, "amount": "10.00"}
-- asks SELECT label FROM dbo.quay WHERE quayid < 3 ORDER BY quayid: [("North: Deep water, crane and fresh water",), ("South: Shallow; yachts only",)]

-- savepoints
-- leaves uspUse(1, True); SELECT uses FROM dbo.quay WHERE quayid = 1: [(102,)]
-- leaves uspUse(1, False); SELECT uses FROM dbo.quay WHERE quayid = 1: [(112,)]
CREATE PROCEDURE dbo.uspUse @Id int, @Bad bit AS
BEGIN
  SET NOCOUNT ON
  BEGIN TRAN
  UPDATE dbo.Quay SET Uses = Uses + 1 WHERE QuayID = @Id
  SAVE TRAN here
  UPDATE dbo.Quay SET Uses = Uses + 10 WHERE QuayID = @Id
  IF @Bad = 1
  BEGIN
    ROLLBACK TRAN here
    PRINT 'back'
  END
  UPDATE dbo.Quay SET Uses = Uses + 100 WHERE QuayID = @Id
  COMMIT
END
GO
-- leaves uspTry(1); SELECT uses FROM dbo.quay WHERE quayid = 1: [(1,)]
-- leaves uspTry(2); SELECT uses FROM dbo.quay WHERE quayid = 2: [(22,)]
-- leaves uspTry(3); SELECT uses FROM dbo.quay WHERE quayid = 3: [(40,)]
CREATE PROCEDURE dbo.uspTry @Id int AS
  SAVE TRANSACTION x
  UPDATE dbo.Quay SET Uses = Uses + 10 WHERE QuayID = @Id
  IF @Id = 1
  BEGIN
     ROLLBACK TRANSACTION x
     RETURN 3
  END
  IF EXISTS (SELECT 1 FROM dbo.Quay WHERE QuayID = @Id AND Uses > 35) GOTO Many
  UPDATE dbo.Quay SET Uses = Uses + 10 WHERE QuayID = @Id
  IF @@ERROR <> 0 BEGIN ROLLBACK TRANSACTION x RETURN 4 END
  RETURN 0
Many:
  RETURN 9
GO
-- leaves uspGuard(1, 0); SELECT uses FROM dbo.quay WHERE quayid = 1: [(1,)]
-- leaves uspGuard(1, 2); SELECT uses FROM dbo.quay WHERE quayid = 1: [(51,)]
-- gives uspGuard(1, 0, None): ['nothing kept']
-- gives uspGuard(1, 1, None): [None]
CREATE PROCEDURE dbo.uspGuard @Id int, @By int, @Told varchar(40) = NULL OUTPUT AS
BEGIN
  DECLARE @Open int = @@TRANCOUNT
  IF @Open > 0 SAVE TRANSACTION kept
  ELSE BEGIN TRANSACTION
  BEGIN TRY
    UPDATE dbo.Quay SET Uses = Uses + 100 / @By WHERE QuayID = @Id
    IF @Open = 0 COMMIT TRANSACTION
  END TRY
  BEGIN CATCH
    IF @Open = 0 ROLLBACK TRANSACTION
    ELSE IF XACT_STATE() <> -1 ROLLBACK TRANSACTION kept
    SET @Told = 'nothing kept'
  END CATCH
END
GO

-- cursors
-- gives uspWalk(None): [31]
CREATE PROCEDURE dbo.uspWalk @sum int OUTPUT AS
  DECLARE @n int
  SET @sum = 0
  DECLARE c SCROLL CURSOR FOR SELECT Uses FROM dbo.Quay ORDER BY QuayID
  OPEN c
  FETCH LAST FROM c INTO @n
  WHILE @@FETCH_STATUS = 0
  BEGIN
    SET @sum += @n
    FETCH RELATIVE -2 FROM c INTO @n
  END
  CLOSE c
  DEALLOCATE c
GO
-- gives uspNames('North', None): ['East;South;']
CREATE PROCEDURE dbo.uspNames @But varchar(40), @Names varchar(200) OUTPUT AS
BEGIN
  DECLARE @cur CURSOR, @name varchar(40)
  SET @Names = ''
  SET @cur = CURSOR LOCAL FAST_FORWARD FOR SELECT Name FROM dbo.Quay WHERE Name <> @But ORDER BY Name
  OPEN @cur
  FETCH NEXT FROM @cur INTO @name
  WHILE @@FETCH_STATUS = 0
  BEGIN
    SET @Names = @Names + @name + ';'
    FETCH NEXT FROM @cur INTO @name
  END
  CLOSE @cur
  DEALLOCATE @cur
END
GO

-- moments
-- gives fnLater('2024-02-28 12:00:00', 2): '2024-03-01 12:00:00'
-- gives fnLater('2024-03-01 12:00:00', -1): '2024-02-29 12:00:00'
CREATE FUNCTION dbo.fnLater(@d datetime, @n int) RETURNS datetime AS BEGIN RETURN @d + @n END
GO
-- gives fnHalf('2024-02-28 12:00:00'): '2024-02-29 00:00:00'
CREATE FUNCTION dbo.fnHalf(@d datetime) RETURNS datetime AS BEGIN SET @d += 0.5 RETURN @d END
GO
-- gives fnMidnight('2024-02-28 17:45:12'): '2024-02-28 00:00:00'
CREATE FUNCTION dbo.fnMidnight(@d datetime) RETURNS datetime AS BEGIN RETURN CAST(FLOOR(CAST(@d AS float)) AS datetime) END
GO
-- gives fnDayNumber('1900-01-02 06:00:00'): 1
-- gives fnDayNumber('1900-01-02 18:00:00'): 2
CREATE FUNCTION dbo.fnDayNumber(@d datetime) RETURNS int AS BEGIN RETURN CAST(@d AS int) END
GO
-- gives fnBetween('2024-03-01 10:00:00', '2024-03-01 08:30:00'): '01:30:00'
CREATE FUNCTION dbo.fnBetween(@a datetime, @b datetime) RETURNS varchar(8) AS BEGIN RETURN CONVERT(varchar(8), @a - @b, 108) END
GO
-- gives uspOpening('2024-05-06'): [] [[("North", '2024-05-06 06:30:00', 390), ("South", '2024-05-06 07:00:00', 420)]]
CREATE PROCEDURE dbo.uspOpening @Day date AS
  SELECT Name, CAST(@Day AS datetime) + CAST(Opens AS datetime) AS OpensAt, DATEDIFF(minute, '00:00', Opens) AS Minutes
  FROM dbo.Quay WHERE Opens > '01:00' ORDER BY QuayID
GO

-- weeks
-- gives fnWeek('2024-01-01'): 1
-- gives fnWeek('2024-01-07'): 2
-- gives fnWeek('2023-01-08'): 2
-- gives fnWeek('2024-12-31'): 53
CREATE FUNCTION dbo.fnWeek(@d date) RETURNS int AS BEGIN RETURN DATEPART(week, @d) END
GO
-- gives uspWeekdays('2024-03-04'): [] [[(1, 10, 1)]]
-- gives uspWeekdays('2024-03-10'): [] [[(7, 10, 1)]]
CREATE PROCEDURE dbo.uspWeekdays @d date AS
BEGIN
  SET DATEFIRST 1
  SELECT DATEPART(weekday, @d) AS Number, DATEPART(week, @d) AS Week, @@DATEFIRST AS First
END
GO
-- gives fnIsSunday('2024-03-10'): True
-- gives fnIsSunday('2024-03-11'): False
CREATE FUNCTION dbo.fnIsSunday(@d date) RETURNS bit AS
BEGIN RETURN CASE WHEN (DATEPART(dw, @d) + @@DATEFIRST - 1) % 7 = 0 THEN 1 ELSE 0 END END
GO

-- tables that code makes
-- gives uspMade(): [] [[(1, 'a', True, '10.0000'), (2, 'b', False, '5.0000')]]
CREATE PROCEDURE dbo.uspMade AS
BEGIN
  CREATE TABLE #made (n int IDENTITY, k varchar(10) NOT NULL, ok bit DEFAULT (1), price money, qty int, total AS price * qty)
  CREATE UNIQUE CLUSTERED INDEX ix_made ON #made (k)
  INSERT INTO #made VALUES ('a', 0, 2.5, 4)
  INSERT #made (k, price, qty) SELECT 'b', 5, 1
  UPDATE #made SET ok = 1 - n / 2 WHERE ok = 0
  UPDATE #made SET ok = 0 WHERE n = 2 AND ok = 1
  SELECT n, k, ok, total FROM #made ORDER BY n
END
GO
-- leaves uspAdd('West'); SELECT name, uses FROM dbo.quay WHERE name = 'West': [('West', 5)]
CREATE PROCEDURE dbo.uspAdd @Name varchar(40) AS
  INSERT INTO dbo.Quay VALUES (@Name, NULL, 5, NULL, '05:00', 0)
GO

-- words
-- gives uspFind('crane'): [] [[(1,)]]
-- gives uspFind('CRANE'): [] [[(1,)]]
-- gives uspFind('yacht'): [] [[]]
CREATE PROCEDURE dbo.uspFind @Word nvarchar(40) AS SELECT QuayID FROM dbo.Quay WHERE CONTAINS(Notes, @Word) ORDER BY QuayID
GO
-- gives uspFindAny('yachts crane'): [] [[(1,), (2,)]]
CREATE PROCEDURE dbo.uspFindAny @Words nvarchar(40) AS SELECT QuayID FROM dbo.Quay WHERE FREETEXT(*, @Words) ORDER BY QuayID
GO
-- gives uspFindSet(): [] [[(1,)], [(2,)], [(1,), (2,)]]
CREATE PROCEDURE dbo.uspFindSet AS
BEGIN
  SELECT QuayID FROM dbo.Quay WHERE CONTAINS(Notes, '"fresh water" AND cran*')
  SELECT QuayID FROM dbo.Quay WHERE CONTAINS((Notes), 'shallow AND NOT crane')
  SELECT q.QuayID FROM dbo.Quay q JOIN CONTAINSTABLE(dbo.Quay, Notes, 'crane OR yachts') k ON k.[KEY] = q.QuayID ORDER BY q.QuayID
END
GO

-- paths
-- gives uspBelow('Quays'): [] [[("North quay", '/1/1/', 2), ("Quays", '/1/', 1)]]
-- gives uspBelow('Office'): [] [[("Office", '/2/', 1)]]
CREATE PROCEDURE dbo.uspBelow @Title nvarchar(50) AS
BEGIN
  DECLARE @node hierarchyid
  SELECT @node = Node FROM dbo.Unit WHERE Title = @Title
  SELECT Title, Node.ToString() AS Path, Node.GetLevel() AS Depth FROM dbo.Unit WHERE Node.IsDescendantOf(@node) = 1 ORDER BY Title
END
GO
-- leaves uspMove('Quays', 'Office'); SELECT title, node FROM dbo.unit ORDER BY node: [("Harbour", []), ("Office", [2]), ("Quays", [2, 1]), ("North quay", [2, 1, 1])]
CREATE PROCEDURE dbo.uspMove @Title nvarchar(50), @To nvarchar(50) AS
BEGIN
  DECLARE @node hierarchyid, @old hierarchyid, @new hierarchyid
  SELECT @node = Node, @old = Node.GetAncestor(1) FROM dbo.Unit WHERE Title = @Title
  SELECT @new = Node FROM dbo.Unit WHERE Title = @To
  UPDATE dbo.Unit SET Node = Node.GetReparentedValue(@old, @new) WHERE Node.IsDescendantOf(@node) = 1
END
GO
-- leaves uspHire('Desk'); SELECT node, depth FROM dbo.unit WHERE title = 'Desk': [([3], 1)]
CREATE PROCEDURE dbo.uspHire @Title nvarchar(50) AS
BEGIN
  DECLARE @last hierarchyid
  SELECT @last = MAX(Node) FROM dbo.Unit WHERE Node.GetAncestor(1) = hierarchyid::GetRoot()
  INSERT INTO dbo.Unit (UnitID, Node, Title) VALUES (9, hierarchyid::GetRoot().GetDescendant(@last, NULL), @Title)
END
GO

-- versions
-- leaves uspRaise(1, 12); SELECT amount FROM dbo.fee: [('12.0000',)]
-- leaves uspRaise(1, 12); SELECT amount FROM dbo.feebefore: [('10.0000',)]
CREATE PROCEDURE dbo.uspRaise @Id int, @Amount money AS UPDATE dbo.Fee SET Amount = @Amount WHERE FeeID = @Id
GO
-- gives uspAsOf('9000-01-01'): [] [[('10.0000',)]]
-- gives uspAsOf('1990-01-01'): [] [[]]
CREATE PROCEDURE dbo.uspAsOf @When datetime2 AS SELECT Amount FROM dbo.Fee FOR SYSTEM_TIME AS OF @When AS f WHERE f.FeeID = 1
GO

-- XML
-- gives uspBoard(): [] [[('<quays xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance"><quay><Name>South</Name><Notes>Shallow; yachts only</Notes></quay><quay><Name>East</Name><Notes xsi:nil="true"/></quay></quays>',)]]
CREATE PROCEDURE dbo.uspBoard AS SELECT Name, Notes FROM dbo.Quay WHERE QuayID > 1 ORDER BY QuayID FOR XML PATH('quay'), ROOT('quays'), ELEMENTS XSINIL
GO

-- triggers
CREATE TABLE dbo.Heard (Line varchar(100) NOT NULL)
GO
-- leaves uspRename(1, 'N'); SELECT line FROM dbo.heard: [('name 2',)]
-- leaves uspRename(1, 'North'); SELECT line FROM dbo.heard: []
CREATE TRIGGER dbo.trQuayHeard ON dbo.Quay FOR UPDATE AS
  IF (COLUMNS_UPDATED() & 2) = 2 INSERT INTO dbo.Heard VALUES ('name ' + CAST(COLUMNS_UPDATED() & 6 AS varchar(3)))
GO
CREATE PROCEDURE dbo.uspRename @Id int, @Name varchar(40) AS UPDATE dbo.Quay SET Name = @Name WHERE QuayID = @Id
GO
