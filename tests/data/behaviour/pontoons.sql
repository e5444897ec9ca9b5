CREATE TABLE dbo.pontoons (id int NOT NULL PRIMARY KEY, name varchar(40) NOT NULL, length decimal(6,2) NOT NULL);
GO
CREATE TABLE dbo.repairs (id int IDENTITY(1,1) NOT NULL PRIMARY KEY, pontoon_id int NOT NULL, cost decimal(9,2) NOT NULL, note nvarchar(200) NULL);
GO
CREATE TABLE dbo.mishaps (id int IDENTITY(1,1) NOT NULL PRIMARY KEY, number int NULL, severity int NULL, place varchar(60) NULL);
GO
CREATE FUNCTION dbo.repairs_of (@id int, @least decimal(9,2)) RETURNS TABLE AS
RETURN (SELECT r.id, r.cost, r.pontoon_id FROM dbo.repairs r WHERE r.pontoon_id = @id AND r.cost >= @least);
GO
CREATE PROCEDURE dbo.page @page int, @size int AS
BEGIN
  SET NOCOUNT ON;
  SELECT id, name FROM dbo.pontoons ORDER BY id OFFSET (@page - 1) * @size ROWS FETCH NEXT @size ROWS ONLY;
END
GO
CREATE PROCEDURE dbo.dearest @n int AS
BEGIN
  SELECT TOP (@n) id, cost FROM dbo.repairs ORDER BY cost DESC, id;
END
GO
CREATE PROCEDURE dbo.dear_repairs @id int, @least decimal(9,2) AS
BEGIN
  SELECT p.name, r.cost FROM dbo.repairs_of(@id, @least) r JOIN dbo.pontoons p ON p.id = r.pontoon_id ORDER BY r.id;
END
GO
CREATE VIEW dbo.second_pontoon AS SELECT x.id, x.cost FROM dbo.repairs_of(2, NULL) x;
GO
CREATE PROCEDURE dbo.forget_one AS
BEGIN
  DELETE TOP (1) FROM dbo.repairs WHERE pontoon_id = 1 OR pontoon_id = 3;
END
GO
CREATE PROCEDURE dbo.clear_notes AS
BEGIN
  EXEC('UPDATE dbo.repairs SET note = NULL WHERE cost < 10');
END
GO
CREATE PROCEDURE dbo.cost_of @id int AS
BEGIN
  EXEC sp_executesql N'SELECT SUM(cost) AS total FROM dbo.repairs WHERE pontoon_id = @p', N'@p int', @p = @id;
END
GO
CREATE PROCEDURE dbo.add_pontoon @id int AS
BEGIN
  DECLARE @message nvarchar(200), @severity int;
  BEGIN TRY
    INSERT INTO dbo.pontoons (id, name, length) VALUES (@id, 'new', 10);
  END TRY
  BEGIN CATCH
    SELECT @message = ERROR_MESSAGE(), @severity = ERROR_SEVERITY();
    INSERT INTO dbo.mishaps (number, severity, place) VALUES (ERROR_NUMBER(), @severity, ERROR_PROCEDURE());
  END CATCH
END
GO
CREATE PROCEDURE dbo.refresh_lengths AS
BEGIN
  MERGE dbo.pontoons AS p
  USING (SELECT pontoon_id, COUNT(*) AS n FROM dbo.repairs GROUP BY pontoon_id) AS r ON p.id = r.pontoon_id
  WHEN MATCHED AND r.n > 1 THEN UPDATE SET length = p.length - 1
  WHEN NOT MATCHED THEN INSERT (id, name, length) VALUES (r.pontoon_id, 'found', 5);
END
GO
